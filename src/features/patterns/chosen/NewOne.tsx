import { Puzzle, X } from "lucide-react";
import { Button } from "../../../components/Button.tsx";
import { LimitedNumber } from "../../../components/sentence/LimitedNumber.tsx";
import { OneOf } from "../../../components/sentence/OneOf.tsx";
import type { Family } from "../../../core/document/index.ts";
import type { Limit } from "../../../core/limit.ts";
import { PIECE_SIZES, type PieceSize } from "../../../core/pattern/index.ts";
import type { MarkedEntry } from "../marked.ts";
import { FAMILY_NAMES } from "../pattern-words.ts";

/** What a new pattern is made of, and how. */
export interface PieceWish {
  readonly likePercent: number;
  readonly size: PieceSize;
  readonly fullerPercent: number;
  /** Patterns that were chosen as pieces; none for all of the same style. */
  readonly pieceIds: readonly string[];
  /** By drum: of which piece, or of the pattern itself. Left out, it is drawn. */
  readonly drumsOf: Readonly<Partial<Record<Family, string>>>;
  /** The piece whose last bar is its last; null for none. */
  readonly lastBarId: string | null;
}

export const USUAL_PIECES: PieceWish = {
  likePercent: 50,
  size: "pattern",
  fullerPercent: 0,
  pieceIds: [],
  drumsOf: {},
  lastBarId: null,
};
/** Stands for the pattern itself among pieces. */
export const OWN = "own";

const SIZES: Readonly<Record<PieceSize, string>> = { pattern: "drum by drum", bar: "bar by bar", beat: "beat by beat" };
const LIKENESS: Limit = {
  label: "Likeness",
  min: 0,
  max: 100,
  step: 5,
  unit: "%",
  usual: USUAL_PIECES.likePercent,
  isWhole: true,
  say: (value) => `${value} % like it`,
};
const FULLER: Limit = {
  label: "Fuller",
  min: -100,
  max: 100,
  step: 5,
  unit: "%",
  usual: 0,
  isWhole: true,
  say: (value) => (value === 0 ? "as full" : `${Math.abs(value)} % ${value > 0 ? "fuller" : "sparser"}`),
};

interface NewOneProps {
  readonly entry: MarkedEntry;
  readonly pieces: readonly MarkedEntry[];
  readonly wish: PieceWish;
  readonly onWish: (wish: PieceWish) => void;
  /** Makes one; null where there is nothing to make it of. */
  readonly onMake: (() => void) | null;
}

/** A new pattern like this one, of others of its style or of pieces that were chosen: this kick, that hat, the fill of a third. */
export function NewOne({ entry, pieces, wish, onWish, onMake }: NewOneProps) {
  const { likePercent, size, fullerPercent, pieceIds, drumsOf, lastBarId } = wish;
  const isPiece = pieceIds.includes(entry.id);
  const others = pieces.filter(({ id }) => id !== entry.id);
  const families = [...new Set([entry, ...others].flatMap(({ facts }) => facts.families))];
  const named = others.map(({ id, name }) => ({ id, name }));
  return (
    <section aria-label="A new one">
      <p className="flex flex-wrap gap-2">
        <Button disabled={onMake === null} onClick={() => onMake?.()}>
          A new one like it
        </Button>
        <Button
          aria-pressed={isPiece}
          className={isPiece ? "bg-amber-tint" : ""}
          onClick={() =>
            onWish({ ...wish, pieceIds: isPiece ? pieceIds.filter((id) => id !== entry.id) : [...pieceIds, entry.id] })
          }
        >
          <Puzzle size={15} aria-hidden="true" />
          Use as a piece
        </Button>
      </p>
      <p className="mt-1.5 text-small leading-[1.75]">
        It is{" "}
        <LimitedNumber
          limit={LIKENESS}
          value={likePercent}
          onCommit={(percent) => onWish({ ...wish, likePercent: percent })}
        />
        , mixed{" "}
        <OneOf
          label="Mixed"
          chosenId={size}
          choices={PIECE_SIZES.map((id) => ({ id, name: SIZES[id] }))}
          onChoose={(id) => onWish({ ...wish, size: id })}
        />
        ,{" "}
        <LimitedNumber
          limit={FULLER}
          value={fullerPercent}
          onCommit={(percent) => onWish({ ...wish, fullerPercent: percent })}
        />
        , of{" "}
        {others.length === 0 ? "others of its style" : others.length === 1 ? "one piece" : `${others.length} pieces`}.
      </p>
      {others.length > 0 && (
        <>
          <ul aria-label="Pieces" className="mt-1 flex flex-wrap gap-1.5 text-small">
            {others.map(({ id, name }) => (
              <li
                key={id}
                className="flex items-center gap-1 rounded-md border border-hairline-strong bg-paper px-2 py-0.5"
              >
                {name}
                <button
                  type="button"
                  aria-label={`${name} is no piece`}
                  className="rounded p-1 text-muted hover:text-ink"
                  onClick={() => onWish({ ...wish, pieceIds: pieceIds.filter((one) => one !== id) })}
                >
                  <X size={13} aria-hidden="true" />
                </button>
              </li>
            ))}
          </ul>
          <ul className="mt-1 text-small leading-[1.75]">
            {families.map((family) => (
              <li key={family}>
                {FAMILY_NAMES[family]} of{" "}
                <OneOf
                  label={`${FAMILY_NAMES[family]} of`}
                  chosenId={drumsOf[family] ?? "any"}
                  choices={[{ id: "any", name: "any" }, { id: OWN, name: "itself" }, ...named]}
                  onChoose={(id) => {
                    const { [family]: _, ...rest } = drumsOf;
                    onWish({ ...wish, drumsOf: id === "any" ? rest : { ...rest, [family]: id } });
                  }}
                />
              </li>
            ))}
            <li>
              Last bar of{" "}
              <OneOf
                label="Last bar of"
                chosenId={lastBarId ?? OWN}
                choices={[{ id: OWN, name: "itself" }, ...named]}
                onChoose={(id) => onWish({ ...wish, lastBarId: id === OWN ? null : id })}
              />
            </li>
          </ul>
        </>
      )}
    </section>
  );
}
