import { OneOf } from "../../components/sentence/OneOf.tsx";
import { SentenceNumber } from "../../components/sentence/SentenceNumber.tsx";
import type { HeardWish } from "./use-heard.ts";

interface HeardSentenceProps {
  readonly bpm: number;
  readonly wish: HeardWish;
  /** How many bars the take has. */
  readonly barCount: number;
  readonly onChange: (wish: HeardWish) => void;
}

/** How patterns are heard: as they are or with the settings of the take, alone or in their place. */
export function HeardSentence({ bpm, wish, barCount, onChange }: HeardSentenceProps) {
  const { isSettled, hasAround, bar } = wish;
  return (
    <p className="text-small leading-[1.7] text-muted">
      At {bpm} bpm, the tempo of the take,{" "}
      <OneOf
        label="Settings"
        chosenId={isSettled ? "take" : "plain"}
        choices={[
          { id: "plain", name: "as it is" },
          { id: "take", name: "with the settings of the take" },
        ]}
        onChoose={(id) => onChange({ ...wish, isSettled: id === "take" })}
      />
      ,{" "}
      <OneOf
        label="Heard"
        chosenId={hasAround ? "around" : "alone"}
        choices={[
          { id: "alone", name: "alone" },
          { id: "around", name: "between the bars before and after" },
        ]}
        onChoose={(id) => onChange({ ...wish, hasAround: id === "around" })}
      />
      , on{" "}
      <SentenceNumber
        label="Bar of the take"
        min={1}
        max={barCount}
        step={1}
        unit=""
        say={(value) => `bar ${value}`}
        value={bar + 1}
        usual={1}
        onCommit={(value) => onChange({ ...wish, bar: Math.round(value) - 1 })}
      />
      .
    </p>
  );
}
