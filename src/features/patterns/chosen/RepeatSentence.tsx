import { Dices } from "lucide-react";
import { OneOf } from "../../../components/sentence/OneOf.tsx";
import { SentenceNumber } from "../../../components/sentence/SentenceNumber.tsx";
import { FILL_EVERY, MOST_TIMES, type RepeatWish } from "../../../core/pattern/index.ts";

interface RepeatSentenceProps {
  readonly wish: RepeatWish;
  /** How many of its times end with a fill. */
  readonly fillCount: number;
  readonly onChange: (wish: RepeatWish) => void;
}

const withOrWithout = [
  { id: "with", name: "with" },
  { id: "without", name: "without" },
] as const;

/** How often a pattern is played when it is put somewhere, and what a drummer does at the ends of its times. */
export function RepeatSentence({ wish, fillCount, onChange }: RepeatSentenceProps) {
  const { times, hasCrash, hasOpenHat, fillEvery, seed } = wish;
  const isFillMissing = fillEvery !== null && times >= fillEvery && fillCount === 0;
  return (
    <section aria-label="Its repeats">
      <p className="leading-[1.75]">
        Play it{" "}
        <SentenceNumber
          label="Times"
          min={1}
          max={MOST_TIMES}
          handy={[1, 16]}
          step={1}
          unit=""
          say={(value) => (value === 1 ? "once" : `${value} times`)}
          value={times}
          usual={1}
          onCommit={(value) => onChange({ ...wish, times: Math.round(value) })}
        />
        ,{" "}
        <OneOf
          label="Crash at the start"
          chosenId={hasCrash ? "with" : "without"}
          choices={withOrWithout}
          onChoose={(id) => onChange({ ...wish, hasCrash: id === "with" })}
        />{" "}
        a crash at the start,{" "}
        <OneOf
          label="Open hat before the turn"
          chosenId={hasOpenHat ? "with" : "without"}
          choices={withOrWithout}
          onChoose={(id) => onChange({ ...wish, hasOpenHat: id === "with" })}
        />{" "}
        an open hat before the turn, and{" "}
        <OneOf
          label="Fill"
          chosenId={fillEvery === null ? "none" : `${fillEvery}`}
          choices={[
            { id: "none", name: "no fill" },
            ...FILL_EVERY.map((every) => ({ id: `${every}`, name: `a fill every ${ORDINALS[every]} time` })),
          ]}
          onChoose={(id) => onChange({ ...wish, fillEvery: id === "none" ? null : Number(id) })}
        />
        .
      </p>
      {fillCount > 0 && (
        <button
          type="button"
          className="inline-flex items-center gap-1 text-small font-bold text-spruce underline"
          onClick={() => onChange({ ...wish, seed: seed + 1 })}
        >
          <Dices size={14} aria-hidden="true" /> other fills
        </button>
      )}
      {isFillMissing && <p className="text-small text-muted">No fill on the shelf has bars as long as these.</p>}
    </section>
  );
}

const ORDINALS: Readonly<Record<(typeof FILL_EVERY)[number], string>> = { 2: "2nd", 4: "4th", 8: "8th" };
