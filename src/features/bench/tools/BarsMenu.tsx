import { MenuButton } from "../../../components/MenuButton.tsx";
import { useBench, useBenchState } from "../../../store/bench/bench-context.ts";
import { doAndSay } from "../commands/do-and-say.ts";
import { barsToFile, barsToPattern, duplicateBars, insertSilentBars, meantBars, removeBars } from "./bar-actions.ts";

const ACTS = {
  insert: insertSilentBars,
  duplicate: duplicateBars,
  remove: removeBars,
  pattern: barsToPattern,
  file: barsToFile,
} as const;

/** What can be done with the bars of the loop, or the bar at the playhead. */
export function BarsMenu() {
  const bench = useBench();
  const name = useBenchState((state) => meantBars(state).name);
  const count = useBenchState((state) => meantBars(state).count);
  return (
    <MenuButton
      label="Bars …"
      className="shrink-0 rounded-md border border-hairline-strong px-2 py-0.5 text-small font-semibold hover:bg-spruce-tint data-[state=open]:bg-spruce-tint"
      groups={[
        [
          { id: "insert", name: `Insert ${count === 1 ? "a silent bar" : `${count} silent bars`} before ${name}` },
          { id: "duplicate", name: `Duplicate ${name}` },
          { id: "remove", name: `Remove ${name}` },
        ],
        [
          { id: "pattern", name: `Save ${name} as a pattern` },
          { id: "file", name: `Save ${name} as a file` },
        ],
      ]}
      onChoose={(id) => {
        const act = Object.entries(ACTS).find(([one]) => one === id)?.[1];
        if (act) doAndSay(bench, () => act(bench));
      }}
    />
  );
}
