import { useState } from "react";
import { say } from "../../components/messages/say.ts";
import { PageLink } from "../../components/page/PageLink.tsx";
import { EditableName } from "../../components/sentence/EditableName.tsx";
import { LimitedNumber } from "../../components/sentence/LimitedNumber.tsx";
import { OneOf } from "../../components/sentence/OneOf.tsx";
import { SentenceNumber } from "../../components/sentence/SentenceNumber.tsx";
import { FULLNESS_LIMITS, findVoice, strokeName, USUAL_FULLNESS } from "../../core/document/index.ts";
import {
  type Arrangement,
  addToSong,
  barTicksOf,
  changePattern,
  duplicatePattern,
  insertBars,
  joinPatterns,
  MOST_PATTERN_BARS,
  movePattern,
  PATTERN_COLOURS,
  removeBars,
  removePatterns,
  type SongPattern,
  turned,
  withLength,
} from "../../core/song/index.ts";
import { useBench, useBenchState } from "../../store/bench/bench-context.ts";
import { songPath } from "../../store/server-api.ts";
import { arrangeBy, arrangementOf, barWords, previewArrange, takeBars } from "./song-actions.ts";

const asFull = (percent: number) => ({ fullnessPercent: Math.round(percent) });

interface PatternCardProps {
  readonly pattern: SongPattern;
  readonly onAlone: () => void;
}

/** One pattern: its name and colour, the bars it plays, whose settings it follows, and what can be done with it. */
export function PatternCard({ pattern, onAlone }: PatternCardProps) {
  const bench = useBench();
  const { store } = bench;
  const { newId } = store;
  const take = useBenchState((state) => state.shown);
  const projectId = useBenchState((state) => state.project.id);
  const { patterns } = arrangementOf(take);
  const bars = takeBars({ pattern: take, maps: useBenchState((state) => state.maps) });
  const [bar, setBar] = useState(1);
  const [takeBar, setTakeBar] = useState(1);
  const { id, name } = pattern;
  const index = patterns.findIndex((one) => one.id === id);
  const next = patterns[index + 1];
  const others = patterns.filter((one) => one.id !== id);
  const at = Math.min(bar, pattern.bars.length) - 1;
  const startTicks = barTicksOf(pattern, bars);
  const change = (label: string, make: Parameters<typeof changePattern>[2]) =>
    arrangeBy(bench, label, (before) => changePattern(before, id, make));
  const whole = (label: string, make: (before: Arrangement) => Arrangement) => arrangeBy(bench, label, make);
  const turn = (quarters: number) =>
    change(`Rotate ${name} by ${quarters > 0 ? "a quarter" : "a quarter back"}`, (one) =>
      turned(one, quarters * take.ppq, startTicks.at(-1)!),
    );
  const action = (label: string, run: () => void, isOff = false) => (
    <button type="button" className="min-h-7 underline disabled:opacity-40" disabled={isOff} onClick={run}>
      {label}
    </button>
  );
  return (
    <section aria-label={`Pattern ${name}`} className="mt-3 border-t border-hairline pt-3">
      <h2 className="text-lead leading-tight">
        <EditableName
          label="Name of the pattern"
          name={name}
          className="font-bold"
          onRename={(wanted) => {
            if (wanted === "") return "A pattern needs a name.";
            change(`Rename ${name}`, () => ({ name: wanted }));
            return null;
          }}
        />
      </h2>
      <div role="radiogroup" aria-label="Colour" className="mt-1.5 flex gap-1.5">
        {PATTERN_COLOURS.map((colour) => (
          // biome-ignore lint/a11y/useSemanticElements: a swatch, and no round mark, shows the colour
          <button
            key={colour}
            type="button"
            role="radio"
            aria-checked={pattern.colour === colour}
            aria-label={colour}
            title={colour}
            style={{ background: `var(--${colour})` }}
            className="size-7 rounded-full border-4 border-sheet outline-offset-1 aria-checked:outline-2 aria-checked:outline-ink"
            onClick={() => change(`Colour of ${name}`, () => ({ colour }))}
          />
        ))}
      </div>
      <p className="mt-2 leading-[1.75]">
        {barWords(pattern, take.ppq)},{" "}
        <SentenceNumber
          label="Length of the pattern"
          min={1}
          max={MOST_PATTERN_BARS}
          step={1}
          unit="bars"
          say={(value) => `${value} ${value === 1 ? "bar" : "bars"} long`}
          value={pattern.bars.length}
          usual={pattern.bars.length}
          onPreview={(value) =>
            previewArrange(bench, (before) => changePattern(before, id, (one) => withLength(one, value)))
          }
          onCommit={(value) => change(`Length of ${name}`, (one) => withLength(one, value))}
          onCancel={() => store.endPreview()}
        />
        . Settings as{" "}
        <OneOf
          label="Settings from"
          chosenId={pattern.followsId ?? "take"}
          choices={[{ id: "take", name: "the take" }, ...others.map((one) => ({ id: one.id, name: one.name }))]}
          onChoose={(leader) =>
            change(`Settings of ${name}`, () => ({ followsId: leader === "take" ? undefined : leader }))
          }
        />
        , where it has none of its own. Played at{" "}
        <LimitedNumber
          label="Fullness of the pattern"
          limit={FULLNESS_LIMITS.percent}
          value={pattern.fullnessPercent ?? take.fullness?.percent ?? USUAL_FULLNESS.percent}
          usual={take.fullness?.percent ?? USUAL_FULLNESS.percent}
          onPreview={(value) => previewArrange(bench, (before) => changePattern(before, id, () => asFull(value)))}
          onCommit={(value) => change(`Fullness of ${name}`, () => asFull(value))}
          onCancel={() => store.endPreview()}
        />{" "}
        fullness.
        {pattern.only && (
          <>
            {" "}
            Only{" "}
            {pattern.only
              .map(({ voiceId, articulationId }) =>
                articulationId === null
                  ? findVoice(take.noteMap, voiceId).name
                  : strokeName(take.noteMap, { voiceId, articulationId }),
              )
              .join(" and ")}{" "}
            {pattern.only.length === 1 ? "is" : "are"} heard in it.{" "}
            {action("Let all be heard", () => change(`All drums in ${name}`, () => ({ only: undefined })))}
          </>
        )}
      </p>
      <p className="mt-1 leading-[1.75]">
        Its{" "}
        <SentenceNumber
          label="Bar of the pattern"
          min={1}
          max={pattern.bars.length}
          step={1}
          unit=""
          say={(value) => `bar ${value}`}
          value={at + 1}
          usual={1}
          onPreview={(value) => setBar(Math.round(value))}
          onCommit={(value) => setBar(Math.round(value))}
        />
        , or{" "}
        <SentenceNumber
          label="Bar of the take"
          min={1}
          max={bars.length}
          step={1}
          unit=""
          say={(value) => `bar ${value} of the take`}
          value={takeBar}
          usual={1}
          onPreview={(value) => setTakeBar(Math.round(value))}
          onCommit={(value) => setTakeBar(Math.round(value))}
        />
        :{" "}
        <span className="inline-flex flex-wrap gap-x-3 text-small font-bold text-spruce">
          {action("repeat bar", () =>
            change(`Copy bar ${at + 1} of ${name}`, (one) => insertBars(one, at, [one.bars[at]!])),
          )}
          {action("that bar before it", () =>
            change(`Bar ${takeBar} of the take into ${name}`, (one) => insertBars(one, at, [takeBar - 1])),
          )}
          {action("insert silent bar", () =>
            change(`Silent bar before bar ${at + 1} of ${name}`, (one) => insertBars(one, at, [null])),
          )}
          {action(
            "remove bar",
            () => change(`Remove bar ${at + 1} of ${name}`, (one) => removeBars(one, at, 1)),
            pattern.bars.length === 1,
          )}
        </span>
      </p>
      <p className="mt-1.5 flex flex-wrap gap-x-4 gap-y-1 text-small font-bold text-spruce">
        {action("Loop", onAlone)}
        <PageLink className="inline-flex min-h-7 items-center underline" href={`/bench/${projectId}?pattern=${id}`}>
          All its settings on the Bench
        </PageLink>
        {action("Add to the song", () => whole(`Add ${name} to the song`, (before) => addToSong(before, id, newId)))}
        {action("Duplicate", () => whole(`Duplicate ${name}`, (before) => duplicatePattern(before, id, newId)))}
        {next &&
          action(`Join with ${next.name}`, () =>
            whole(`Join ${name} and ${next.name}`, (before) => joinPatterns(before, id, next.id, newId)),
          )}
        {action("Rotate by a quarter", () => turn(1))}
        {action("Rotate back", () => turn(-1))}
        {action("Up", () => whole(`Move ${name} up`, (before) => movePattern(before, id, index - 1)), index === 0)}
        {action("Down", () => whole(`Move ${name} down`, (before) => movePattern(before, id, index + 1)), !next)}
        <a
          className="inline-flex min-h-7 items-center underline"
          href={songPath(projectId, { patternId: id })}
          download
        >
          Export it
        </a>
        {action("Remove", () => {
          whole(`Remove ${name}`, (before) => removePatterns(before, new Set([id])));
          say(`Removed ${name}, also from the song. The take keeps its bars.`, {
            label: "Undo",
            act: () => store.undo(),
          });
        })}
      </p>
    </section>
  );
}
