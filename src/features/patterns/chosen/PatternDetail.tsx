import { Dices, Star } from "lucide-react";
import { useMemo } from "react";
import { Button } from "../../../components/Button.tsx";
import { Hint } from "../../../components/Hint.tsx";
import { EditableName } from "../../../components/sentence/EditableName.tsx";
import { SettingRow } from "../../../components/sentence/SettingRow.tsx";
import { Tags } from "../../../components/Tags.tsx";
import type { Family } from "../../../core/document/index.ts";
import { toOneLine } from "../../../core/json-shape.ts";
import {
  NO_VARIATION,
  type PatternMark,
  type RepeatWish,
  roomOf,
  type Variation,
  type VariedStroke,
} from "../../../core/pattern/index.ts";
import type { ShelfEntry } from "../../../store/patterns/use-pattern-shelf.ts";
import { type MarkedEntry, markOf } from "../marked.ts";
import { PatternFins } from "../PatternFins.tsx";
import { FAMILY_NAMES, factWords } from "../pattern-words.ts";
import { AddedStrokes, CountsLeast } from "./AddedStrokes.tsx";
import { NewOne, type PieceWish } from "./NewOne.tsx";
import { RepeatSentence } from "./RepeatSentence.tsx";

const FAMILIES_SHOWN: readonly Family[] = ["kick", "snare", "hats", "cymbals", "toms"];
const MOST_LOUDER = 40;
const MOST_SHOWN_ROOM = 12;
/** All of these are counted in whole steps around how it was played. */
const STEPS = { step: 1, unit: "", usual: 0, isWhole: true } as const;

interface PatternDetailProps {
  readonly entry: MarkedEntry;
  readonly elsewhere: readonly ShelfEntry[];
  readonly variation: Variation;
  readonly strokes: readonly VariedStroke[];
  /** Why it fits what was knocked; null where nothing was. */
  readonly found: { readonly agrees: readonly string[]; readonly differs: readonly string[] } | null;
  /** What is said of it. */
  readonly onMark: (mark: PatternMark) => void;
  /** What is dragged, before it is let go; null where that is given up. */
  readonly onPreview: (variation: Variation | null) => void;
  readonly onVary: (variation: Variation) => void;
  readonly repeats: RepeatWish;
  readonly fillCount: number;
  readonly onRepeats: (wish: RepeatWish) => void;
  readonly onSong: () => void;
  readonly onBench: () => void;
  readonly onSave: () => void;
  /** Takes the file that it came in with off the shelf; null where it came in with none. */
  readonly onTakeOff: (() => void) | null;
  readonly pieces: readonly MarkedEntry[];
  readonly pieceWish: PieceWish;
  readonly onPieceWish: (wish: PieceWish) => void;
  /** Makes another one like it; null where there is nothing to make it of. */
  readonly onNew: (() => void) | null;
}

/** One pattern: what it is, fuller or sparser, harder or softer, and where it goes. */
export function PatternDetail(props: PatternDetailProps) {
  const {
    entry,
    elsewhere,
    variation,
    strokes,
    found,
    onMark,
    onPreview,
    onVary,
    onSong,
    onBench,
    onSave,
    onNew,
    onTakeOff,
  } = props;
  const { facts, rhythm } = entry;
  const withStrokes = (family: Family, count: number) => ({
    ...variation,
    strokes: { ...variation.strokes, [family]: count },
  });
  const withVelocity = (family: Family, by: number) => ({
    ...variation,
    velocity: { ...variation.velocity, [family]: by },
  });
  // Asks for all that could be added, which is too much for every step of a slider.
  const rooms = useMemo(() => {
    const others = elsewhere.map((one) => one.rhythm);
    const shown = FAMILIES_SHOWN.filter((family) => facts.families.includes(family));
    return shown.map((family) => ({ family, room: roomOf(rhythm, others, family) }));
  }, [elsewhere, facts, rhythm]);
  const added = strokes.filter(({ isAdded }) => isAdded).length;
  const gone = useMemo(() => {
    const there = new Set(strokes.map(({ hit, quarters }) => `${hit.id} ${quarters}`));
    return rhythm.strokes.filter(({ hit, quarters }) => !there.has(`${hit.id} ${quarters}`));
  }, [rhythm, strokes]);
  const isVaried =
    variation.seed !== 1 ||
    variation.thrown.length > 0 ||
    [variation.strokes, variation.velocity].some((by) => Object.values(by).some(Boolean));
  return (
    <aside
      aria-label="Pattern"
      className="flex min-h-0 flex-col gap-3 overflow-y-auto *:shrink-0 border-l border-hairline bg-sheet p-[18px]"
    >
      <div>
        <div className="flex items-start gap-2">
          <h2 className="min-w-0 flex-1 text-lead font-bold">
            <EditableName
              key={entry.id}
              label="Name of the pattern"
              name={entry.name}
              onRename={(name) => {
                onMark(markOf(entry, { name: toOneLine(name) }));
                return null;
              }}
            />
          </h2>
          <Hint text={entry.isFavourite ? "A favourite" : "Make it a favourite"}>
            <button
              type="button"
              aria-label="Favourite"
              aria-pressed={entry.isFavourite}
              className="grid size-8 shrink-0 place-items-center rounded-md text-amber-text hover:bg-spruce-tint"
              onClick={() => onMark(markOf(entry, { isFavourite: !entry.isFavourite }))}
            >
              <Star size={18} fill={entry.isFavourite ? "currentColor" : "none"} />
            </button>
          </Hint>
        </div>
        <p className="mb-1.5 text-small text-muted">
          {entry.name !== entry.cutName && `${entry.cutName}: `}
          {factWords(entry)}
        </p>
        <Tags tags={entry.tags} onChange={(tags) => onMark(markOf(entry, { tags }))} />
      </div>
      <PatternFins
        rhythm={rhythm}
        strokes={strokes}
        gone={gone}
        width={270}
        height={110}
        label={`${entry.name}, ${strokes.length} hits`}
      />
      <p className="flex flex-wrap gap-2">
        <Button kind="main" onClick={onSong}>
          Put into the song
        </Button>
        <Button onClick={onBench}>Lay on the take</Button>
        <Button onClick={onSave}>Save as a file</Button>
        {onTakeOff && <Button onClick={onTakeOff}>Take off the shelf</Button>}
      </p>
      <RepeatSentence wish={props.repeats} fillCount={props.fillCount} onChange={props.onRepeats} />
      {found && <Reasons {...found} />}
      <section aria-label="How full, how hard">
        <h3 className="mb-1 text-small text-muted">How full, in hits more or fewer</h3>
        <CountsLeast rhythm={rhythm} strokes={strokes} />
        {rooms.map(({ family, room }) => {
          return (
            <SettingRow
              key={family}
              limit={{
                label: FAMILY_NAMES[family],
                min: -room.fewer,
                max: Math.min(MOST_SHOWN_ROOM, room.more),
                say: (count) => (count === 0 ? "as it is" : count > 0 ? `${count} more` : `${-count} fewer`),
                ...STEPS,
              }}
              value={variation.strokes[family] ?? 0}
              onPreview={(count) => onPreview(withStrokes(family, count))}
              onCommit={(count) => onVary(withStrokes(family, count))}
              onCancel={() => onPreview(null)}
            />
          );
        })}
        <h3 className="mt-2 mb-1 text-small text-muted">How hard</h3>
        {rooms.map(({ family }) => (
          <SettingRow
            key={family}
            limit={{
              label: `${FAMILY_NAMES[family]} velocity`,
              min: -MOST_LOUDER,
              max: MOST_LOUDER,
              say: (by) => (by === 0 ? "as it is" : by > 0 ? `${by} harder` : `${-by} softer`),
              ...STEPS,
            }}
            value={variation.velocity[family] ?? 0}
            onPreview={(by) => onPreview(withVelocity(family, by))}
            onCommit={(by) => onVary(withVelocity(family, by))}
            onCancel={() => onPreview(null)}
          />
        ))}
        <AddedStrokes rhythm={rhythm} strokes={strokes} variation={variation} onVary={onVary} />
        {(isVaried || added > 0) && (
          <p role="status" className="mt-2 rounded-lg bg-paper px-3 py-2 text-small">
            {added > 0 && <strong>{added} added, where these drums play elsewhere. </strong>}
            {gone.length > 0 && <strong>{gone.length} left out, what counts least first. </strong>}
            <button type="button" className="font-bold text-spruce underline" onClick={() => onVary(NO_VARIATION)}>
              Back to as it was played
            </button>
            {added > 0 && (
              <button
                type="button"
                className="ml-3 inline-flex items-center gap-1 font-bold text-spruce underline"
                onClick={() => onVary({ ...variation, seed: variation.seed + 1 })}
              >
                <Dices size={14} /> others
              </button>
            )}
          </p>
        )}
      </section>
      <NewOne entry={entry} pieces={props.pieces} wish={props.pieceWish} onWish={props.onPieceWish} onMake={onNew} />
    </aside>
  );
}

const MOST_REASONS = 5;

/** Where a pattern agrees with what was knocked, and where not. */
function Reasons({ agrees, differs }: { agrees: readonly string[]; differs: readonly string[] }) {
  const list = (all: readonly string[]) =>
    all.length > MOST_REASONS
      ? `${all.slice(0, MOST_REASONS).join(", ")} and ${all.length - MOST_REASONS} more`
      : all.join(", ");
  return (
    <p className="text-small">
      <strong>Agrees:</strong> {list(agrees) || "nothing"}. <strong>Differs:</strong> {list(differs) || "nothing"}.
    </p>
  );
}
