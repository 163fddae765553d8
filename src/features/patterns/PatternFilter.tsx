import { useRef } from "react";
import { SearchField } from "../../components/SearchField.tsx";
import { LimitedNumber } from "../../components/sentence/LimitedNumber.tsx";
import { OneOf } from "../../components/sentence/OneOf.tsx";
import type { Limit } from "../../core/limit.ts";
import { PATTERN_KINDS } from "../../core/pattern/index.ts";
import type { MarkedEntry } from "./marked.ts";

/** Which patterns are listed. */
export interface PatternWish {
  readonly kind: string;
  readonly meter: string;
  readonly slowestBpm: number;
  readonly fastestBpm: number;
  /** Strokes a bar. */
  readonly sparsest: number;
  readonly fullest: number;
  /** Words that its name, tags, or what it was cut from begin with. */
  readonly words: string;
  readonly isFavourite: boolean;
  readonly tag: string;
}

const ANY = "any";
const BPM = { min: 30, max: 300, step: 1, unit: "", isWhole: true } as const;
const HITS_A_BAR = { min: 0, max: 64, step: 1, unit: "", isWhole: true } as const;
const LIMITS = {
  slowestBpm: { label: "Slowest", ...BPM, usual: BPM.min },
  fastestBpm: { label: "Fastest", ...BPM, usual: BPM.max },
  sparsest: { label: "Sparsest", ...HITS_A_BAR, usual: HITS_A_BAR.min },
  fullest: { label: "Fullest", ...HITS_A_BAR, usual: HITS_A_BAR.max },
} as const satisfies Readonly<Record<string, Limit>>;

export const EVERY_PATTERN: PatternWish = {
  kind: ANY,
  meter: ANY,
  slowestBpm: BPM.min,
  fastestBpm: BPM.max,
  sparsest: HITS_A_BAR.min,
  fullest: HITS_A_BAR.max,
  words: "",
  isFavourite: false,
  tag: ANY,
};

/** An end of a range that stands at its limit asks for nothing: what lies beyond it is listed too. */
const isBetween = (value: number, from: number, to: number, { min, max }: Pick<Limit, "min" | "max">) =>
  (from === min || value >= from) && (to === max || value <= to);

export function isWished(wish: PatternWish, entry: MarkedEntry): boolean {
  const { kind, bpm, facts, tags, isFavourite } = entry;
  return (
    (!wish.isFavourite || isFavourite) &&
    (wish.tag === ANY || tags.includes(wish.tag)) &&
    hasWords(wish.words, entry) &&
    (wish.kind === ANY || kind === wish.kind) &&
    (wish.meter === ANY || facts.meter === wish.meter) &&
    isBetween(bpm, wish.slowestBpm, wish.fastestBpm, BPM) &&
    isBetween(facts.fullness, wish.sparsest, wish.fullest, HITS_A_BAR)
  );
}

/** Whether each word that is typed begins one of those that a pattern is known by. */
function hasWords(typed: string, { name, cutName, from, kind, words, tags }: MarkedEntry): boolean {
  const sought = wordsIn(typed);
  if (sought.length === 0) return true;
  const known = wordsIn([name, cutName, from, kind, ...words, ...tags].join(" "));
  return sought.every((word) => known.some((one) => one.startsWith(word)));
}

const wordsIn = (text: string) => text.toLowerCase().match(/[\p{L}\p{N}]+/gu) ?? [];

interface FilterProps {
  readonly wish: PatternWish;
  readonly meters: readonly string[];
  readonly tags: readonly string[];
  readonly onChange: (wish: PatternWish) => void;
}

/** What narrows the list, in words. */
export function PatternFilter({ wish, meters, tags, onChange }: FilterProps) {
  const change = (part: Partial<PatternWish>) => onChange({ ...wish, ...part });
  /** What was wished before a number began to change. */
  const before = useRef<PatternWish | null>(null);
  const number = (field: keyof typeof LIMITS) => (
    <LimitedNumber
      limit={LIMITS[field]}
      value={wish[field]}
      onPreview={(value) => {
        before.current ??= wish;
        change({ [field]: value });
      }}
      onCommit={(value) => {
        before.current = null;
        change({ [field]: value });
      }}
      onCancel={() => {
        if (before.current) onChange(before.current);
        before.current = null;
      }}
    />
  );
  return (
    <div className="border-b border-hairline px-4 py-1 text-small leading-[1.75]">
      <SearchField
        label="Find a pattern by its words"
        placeholder="by name, tag, or what it was cut from"
        value={wish.words}
        className="mt-1 w-full"
        onChange={(words) => change({ words })}
      />
      Listed is{" "}
      <OneOf
        label="Which"
        chosenId={wish.isFavourite ? "favourites" : ANY}
        choices={[
          { id: ANY, name: "all" },
          { id: "favourites", name: "favourites" },
        ]}
        onChoose={(which) => change({ isFavourite: which === "favourites" })}
      />{" "}
      of{" "}
      <OneOf
        label="Kind"
        chosenId={wish.kind}
        choices={[{ id: ANY, name: "anything" }, ...PATTERN_KINDS.map((id) => ({ id, name: `${id}s` }))]}
        onChoose={(kind) => change({ kind })}
      />{" "}
      in{" "}
      <OneOf
        label="Meter"
        chosenId={wish.meter}
        choices={[{ id: ANY, name: "any meter" }, ...meters.map((id) => ({ id, name: id }))]}
        onChoose={(meter) => change({ meter })}
      />
      {tags.length > 0 && (
        <>
          , tagged{" "}
          <OneOf
            label="Tag"
            chosenId={wish.tag}
            choices={[{ id: ANY, name: "anyhow" }, ...tags.map((id) => ({ id, name: id }))]}
            onChoose={(tag) => change({ tag })}
          />
        </>
      )}
      , from {number("slowestBpm")} to {number("fastestBpm")} bpm, with {number("sparsest")} to {number("fullest")} hits
      a bar.
    </div>
  );
}
