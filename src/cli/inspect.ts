import { importTake } from "../core/file/index.ts";
import { GENERAL_MIDI } from "../core/notemap/index.ts";
import { summarizeTake } from "../core/overview/index.ts";
import { foundGridSentence } from "../core/study/index.ts";
import { buildMeterMap, formatBarBeat } from "../core/time/index.ts";
import { findingsOf } from "./findings.ts";

/** What is in a take, as JSON or as lines to read. */
export function inspectTake(bytes: Uint8Array, isJson: boolean): string {
  const { pattern, notices } = importTake(bytes, GENERAL_MIDI);
  if (isJson) return JSON.stringify(findingsOf(pattern, notices), null, 2);
  const { lanes } = summarizeTake(pattern);
  const meterMap = buildMeterMap(pattern.ppq, pattern.meters);
  const lines = lanes.map(({ name, hitCount, found }) => {
    const fit = found
      ? `${foundGridSentence(found)}, ± ${found.spreadMs.toFixed(0)} ms, ${Math.round(found.shareExplained * 100)} % fit`
      : "";
    return `${name.padEnd(16)} ${String(hitCount).padStart(6)} hits  ${fit}`;
  });
  const end = formatBarBeat(meterMap, pattern.lengthTicks);
  return [
    `${pattern.hits.length} hits in ${lanes.length} voices, to ${end}, ${pattern.ppq} ticks per quarter`,
    ...lines,
    ...notices.map((notice) => `Byte ${notice.byteOffset}: ${notice.message}`),
  ].join("\n");
}
