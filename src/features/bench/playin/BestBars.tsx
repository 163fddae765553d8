import clsx from "clsx";
import { baseTick } from "../../../core/document/index.ts";
import { hearBar, leaveBarOut, type Pass } from "../../../core/record/index.ts";
import { barAt, barByIndex } from "../../../core/time/index.ts";
import { useBench, useBenchState } from "../../../store/bench/bench-context.ts";
import { doAndSay } from "../commands/do-and-say.ts";

/** It opens at the foot of a list that may be longer than its panel. */
const intoView = (table: HTMLTableElement | null) => table?.scrollIntoView({ block: "nearest" });

/** Bars by passes: in each bar one of them can be chosen, and is heard at once. */
export function BestBars({ passes }: { passes: readonly Pass[] }) {
  const bench = useBench();
  const { store } = bench;
  const meterMap = useBenchState((state) => state.maps.meterMap);
  const inBar = (pass: Pass, bar: number) => pass.hits.filter((hit) => barAt(meterMap, baseTick(hit)).barIndex === bar);
  const bars = [
    ...new Set(passes.flatMap(({ hits }) => hits.map((hit) => barAt(meterMap, baseTick(hit)).barIndex))),
  ].sort((a, b) => a - b);
  const choose = (pass: number, bar: number, isHeard: boolean) => {
    doAndSay(bench, () => {
      const { pattern } = store.getState();
      const what = `bar ${bar + 1} of pass ${pass}`;
      if (isHeard) store.commit(`Leave out ${what}`, leaveBarOut(pattern, meterMap, pass, bar));
      else store.commit(`Hear ${what}`, hearBar(pattern, meterMap, pass, bar));
      const { startTick, endTick } = barByIndex(meterMap, bar);
      store.setLoop({ startTick, endTick });
      return isHeard
        ? `Left out ${what}.`
        : `Bar ${bar + 1} plays pass ${pass}, in place of what others play on its drums.`;
    });
  };
  return (
    <table ref={intoView} className="mt-2 text-small">
      <caption className="sr-only">Which pass each bar plays</caption>
      <thead>
        <tr>
          <th scope="col" className="pr-3 text-left font-normal text-muted">
            bar
          </th>
          {bars.map((bar) => (
            <th key={bar} scope="col" className="px-1 font-normal text-muted">
              {bar + 1}
            </th>
          ))}
        </tr>
      </thead>
      <tbody>
        {passes.map((pass) => (
          <tr key={pass.pass}>
            <th scope="row" className="pr-3 text-left font-bold whitespace-nowrap">
              Pass {pass.pass}
            </th>
            {bars.map((bar) => {
              const own = inBar(pass, bar);
              const isHeard = own.some(({ isMuted }) => !isMuted);
              return (
                <td key={bar} className="p-0.5">
                  <button
                    type="button"
                    disabled={own.length === 0}
                    aria-pressed={isHeard}
                    aria-label={`Bar ${bar + 1} of pass ${pass.pass}, ${own.length} hits`}
                    className={clsx(
                      "h-6 w-11 rounded-md border border-edge disabled:opacity-30",
                      isHeard ? "border-spruce bg-spruce text-on-spruce" : "hover:bg-spruce-tint",
                    )}
                    onClick={() => choose(pass.pass, bar, isHeard)}
                  >
                    {own.length}
                  </button>
                </td>
              );
            })}
          </tr>
        ))}
      </tbody>
    </table>
  );
}
