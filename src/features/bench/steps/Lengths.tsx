import { say } from "../../../components/messages/say.ts";
import { type LengthFaultKind, mendLengths, unmendLengths } from "../../../core/commands/index.ts";
import type { Hit } from "../../../core/document/index.ts";
import { useBench, useBenchState } from "../../../store/bench/bench-context.ts";
import { hitCount } from "../commands/actions.ts";
import { showPicked } from "../commands/travel-actions.ts";

const LENGTH_WORDS: Readonly<Record<LengthFaultKind, (count: string) => string>> = {
  hanging: (count) => `${count} never end`,
  zeroLength: (count) => `${count} end as they begin`,
  overlong: (count) => `${count} are held over five seconds`,
  overlapping: (count) => `${count} still sound when the next begins`,
};

/** Notes whose length can spoil playback elsewhere: a hit has none, but its note in the file does. */
export function Lengths({ hits }: { hits: readonly Hit[] }) {
  const bench = useBench();
  const { store } = bench;
  const lengthFaults = useBenchState((state) => state.lengthFaults);
  const own = new Map(hits.map((hit) => [hit.id, hit]));
  const faults = lengthFaults.filter(({ hitId }) => own.get(hitId) && own.get(hitId)?.lengthTicks === undefined);
  const mended = hits.filter((hit) => hit.lengthTicks !== undefined);
  if (faults.length === 0 && mended.length === 0) return null;
  const kinds = [...new Set(faults.map(({ kind }) => kind))];
  const words = kinds.map((kind) => LENGTH_WORDS[kind](String(faults.filter((one) => one.kind === kind).length)));
  const linkClass = "font-bold text-spruce underline";
  return (
    <p className="mt-1 text-small leading-snug">
      {faults.length > 0 && (
        <>
          Notes that can spoil playback: {words.join(", ")}.{" "}
          <button
            type="button"
            className={linkClass}
            onClick={() => {
              store.commit(
                `Fix the length of ${hitCount(faults.length)}`,
                mendLengths(store.getState().pattern, faults),
              );
              say(`Fixed ${hitCount(faults.length)}: they are exported as short notes and sound as before.`);
            }}
          >
            Fix {faults.length === 1 ? "it" : `all ${faults.length}`}
          </button>{" "}
          <button
            type="button"
            className={linkClass}
            onClick={() => {
              store.pick(new Set(faults.map(({ hitId }) => hitId)));
              showPicked(bench);
            }}
          >
            Show {faults.length === 1 ? "it" : "them"}
          </button>{" "}
        </>
      )}
      {mended.length > 0 && (
        <>
          {hitCount(mended.length)} fixed.{" "}
          <button
            type="button"
            className={linkClass}
            onClick={() => store.commit(`Leave the length of ${hitCount(mended.length)}`, unmendLengths(mended))}
          >
            As in the file
          </button>
        </>
      )}
    </p>
  );
}
