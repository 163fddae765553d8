import { Dices } from "lucide-react";
import { Button } from "../../../components/Button.tsx";
import { SettingRow } from "../../../components/sentence/SettingRow.tsx";
import { FULLNESS_LIMITS } from "../../../core/document/index.ts";
import { useBench, useBenchState } from "../../../store/bench/bench-context.ts";
import { fullnessOf } from "../../../store/bench/bench-selectors.ts";
import { doAndSay } from "../commands/do-and-say.ts";
import { fullnessEdit, rerollFullness } from "../commands/fullness-actions.ts";

/** How full the part is played, and another roll of the dice: both decide which hits that are played sometimes are played. */
export function FullnessRow() {
  const bench = useBench();
  const { store } = bench;
  const percent = useBenchState((state) => fullnessOf({ pattern: state.shown, scopeId: state.scopeId }).percent);
  return (
    <section aria-label="Fullness" className="border-t border-hairline pt-2">
      <SettingRow
        limit={FULLNESS_LIMITS.percent}
        hint="Which hits are played that depend on how full the part is"
        value={percent}
        onPreview={(next) => store.preview(fullnessEdit(store.getState(), next))}
        onCommit={(next) => store.commit(`Fullness ${Math.round(next)} %`, fullnessEdit(store.getState(), next))}
        onCancel={() => store.endPreview()}
      />
      <p className="flex items-center justify-between gap-2 text-small text-muted">
        Drawn anew each time round.
        <Button className="px-2.5 py-0 text-small" onClick={() => doAndSay(bench, () => rerollFullness(bench))}>
          <Dices size={14} aria-hidden="true" className="mr-1 inline" />
          Re-roll
        </Button>
      </p>
    </section>
  );
}
