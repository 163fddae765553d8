import type { TimingTreatment } from "../../../core/document/index.ts";
import { counted } from "../../../core/ordinal.ts";
import { type FoundGrid, foundGridSentence, habitWords } from "../../../core/study/index.ts";
import { type GridPlan, gridName, STRAIGHT_PERCENT } from "../../../core/time/index.ts";
import { gridSign } from "../steps/grid-groups.ts";

/** What a lane's head says beside its name: in a line, or in short lines where the head is tall and narrow. */
export interface HeadWords {
  readonly words: string;
  readonly lines: readonly string[];
}

/**
 * How a voice is quantized, or how it was played as long as it is not.
 * @param found null while that is not known
 * @param lateMs what is taken off the voice as latency
 */
export function headWords(timing: TimingTreatment | undefined, found: FoundGrid | null, lateMs = 0): HeadWords {
  if (timing?.isOn) {
    const to = `${Math.round(timing.strengthPercent)} % to`;
    const count = timing.stretches?.length ?? 0;
    const places = count === 0 ? null : `others in ${counted(count, "place")}`;
    const others = [ghostWords(timing, gridName), places].filter((one) => one !== null);
    return {
      words: [`${to} ${gridName(timing.grid)}`, ...others].join(", "),
      lines: [`${to} ${gridSign(timing.grid)}`, ...planLines(timing)],
    };
  }
  if (!found) return { words: "", lines: [] };
  const heard = { ...found, meanDriftMs: found.meanDriftMs - lateMs };
  const words = foundGridSentence(heard);
  if (found.isPoor) return { words, lines: [words] };
  return { words, lines: [gridSign(found.grid), habitWords(heard), ...planLines(found)] };
}

/** What a plan has besides the steps of its grid, each in a few letters. */
function planLines(plan: GridPlan): readonly string[] {
  const { swingPercent = STRAIGHT_PERCENT } = plan.grid;
  const swing = swingPercent === STRAIGHT_PERCENT ? null : `swung ${swingPercent} %`;
  const others = plan.stretches?.length ? `others: ${plan.stretches.length}` : null;
  return [swing, ghostWords(plan, gridSign), others].filter((one) => one !== null);
}

const ghostWords = ({ ghostGrid }: GridPlan, named: typeof gridName) =>
  ghostGrid ? `ghosts ${named(ghostGrid)}` : null;
