import { Dices } from "lucide-react";
import { useMemo } from "react";
import { Button } from "../../components/Button.tsx";
import { SettingRow } from "../../components/SettingRow.tsx";
import type { Family } from "../../core/document/index.ts";
import { roomOf, type Variation, type VariedStroke } from "../../core/pattern/index.ts";
import type { ShelfEntry } from "../../store/patterns/use-pattern-shelf.ts";
import { PatternFins } from "./PatternFins.tsx";
import { FAMILY_NAMES, factWords } from "./pattern-words.ts";

const FAMILIES_SHOWN: readonly Family[] = ["kick", "snare", "hats", "cymbals", "toms"];
const MOST_LOUDER = 40;
const MOST_SHOWN_ROOM = 12;
/** All of these are counted in whole steps around how it was played. */
const STEPS = { step: 1, unit: "", usual: 0, isWhole: true } as const;

interface PatternDetailProps {
  readonly entry: ShelfEntry;
  readonly elsewhere: readonly ShelfEntry[];
  readonly variation: Variation;
  readonly strokes: readonly VariedStroke[];
  /** Why it fits what was knocked; null where nothing was. */
  readonly found: { readonly agrees: readonly string[]; readonly differs: readonly string[] } | null;
  readonly onVary: (variation: Variation) => void;
  readonly onSong: () => void;
  readonly onBench: () => void;
  readonly onSave: () => void;
  /** Makes another one like it; null where there is nothing to make it of. */
  readonly onNew: (() => void) | null;
}

/** One pattern: what it is, fuller or sparser, harder or softer, and where it goes. */
export function PatternDetail(props: PatternDetailProps) {
  const { entry, elsewhere, variation, strokes, found, onVary, onSong, onBench, onSave, onNew } = props;
  const { facts, rhythm } = entry;
  // Asks for all that could be added, which is too much for every step of a slider.
  const rooms = useMemo(() => {
    const others = elsewhere.map((one) => one.rhythm);
    const shown = FAMILIES_SHOWN.filter((family) => facts.families.includes(family));
    return shown.map((family) => ({ family, room: roomOf(rhythm, others, family) }));
  }, [elsewhere, facts, rhythm]);
  const added = strokes.filter(({ isAdded }) => isAdded).length;
  const left = rhythm.strokes.length + added - strokes.length;
  const isVaried =
    variation.seed !== 1 || [variation.strokes, variation.velocity].some((by) => Object.values(by).some(Boolean));
  return (
    <aside
      aria-label="Pattern"
      className="flex min-h-0 flex-col gap-3 overflow-y-auto *:shrink-0 border-l border-hairline bg-sheet p-[18px]"
    >
      <div>
        <h2 className="text-lead font-bold">{entry.name}</h2>
        <p className="text-small text-muted">{factWords(entry)}</p>
      </div>
      <PatternFins
        rhythm={rhythm}
        strokes={strokes}
        width={270}
        height={110}
        label={`${entry.name}, ${strokes.length} strokes`}
      />
      <p className="flex flex-wrap gap-2">
        <Button kind="main" onClick={onSong}>
          Put into the song
        </Button>
        <Button onClick={onBench}>Lay on the take</Button>
        <Button onClick={onSave}>Save as a file</Button>
        {onNew && <Button onClick={onNew}>A new one like it</Button>}
      </p>
      {found && <Reasons {...found} />}
      <section aria-label="How full, how hard">
        <h3 className="mb-1 text-small text-muted">How full, in strokes more or fewer</h3>
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
              onPreview={(count) => onVary({ ...variation, strokes: { ...variation.strokes, [family]: count } })}
              onCommit={(count) => onVary({ ...variation, strokes: { ...variation.strokes, [family]: count } })}
              onCancel={() => {}}
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
            onPreview={(by) => onVary({ ...variation, velocity: { ...variation.velocity, [family]: by } })}
            onCommit={(by) => onVary({ ...variation, velocity: { ...variation.velocity, [family]: by } })}
            onCancel={() => {}}
          />
        ))}
        {(isVaried || added > 0) && (
          <p role="status" className="mt-2 rounded-lg bg-paper px-3 py-2 text-small">
            {added > 0 && <strong>{added} added, where these drums play elsewhere. </strong>}
            {left > 0 && <strong>{left} left out, what counts least first. </strong>}
            <button
              type="button"
              className="font-bold text-spruce underline"
              onClick={() => onVary({ strokes: {}, velocity: {}, seed: 1 })}
            >
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
