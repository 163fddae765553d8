"use client";

import { Popover, Slider } from "radix-ui";
import { useState } from "react";

interface SentenceNumberProps {
  readonly label: string;
  readonly value: number;
  readonly min: number;
  readonly max: number;
  readonly step: number;
  readonly unit: string;
  /** How the sentence says the value, if not as number and unit. */
  readonly say?: (value: number) => string;
  /** What a double-click goes back to. */
  readonly usual: number;
  /** Called while it changes. */
  readonly onPreview: (value: number) => void;
  /** Called when the change is over. */
  readonly onCommit: (value: number) => void;
  /** Called when a change was given up. */
  readonly onCancel: () => void;
}

/** A number in a sentence: opened, it can be dragged or typed, and what it does is shown while it changes. */
export function SentenceNumber(props: SentenceNumberProps) {
  const { label, value, min, max, step, unit, usual, onPreview, onCommit, onCancel } = props;
  const say = props.say ?? ((shownValue: number) => `${format(shownValue)} ${unit}`);
  const [draft, setDraft] = useState<number | null>(null);
  const [text, setText] = useState<string | null>(null);
  const [refusal, setRefusal] = useState<string | null>(null);
  const shown = draft ?? value;
  const commitText = () => {
    if (text === null || text.trim() === "") return setText(null);
    const typed = Number(text.replace(",", ".").replace("−", "-"));
    if (!Number.isFinite(typed)) return setRefusal(`“${text.trim()}” is no number. Nothing was changed.`);
    if (typed < min || typed > max) {
      return setRefusal(`${format(typed)} is out of reach: ${format(min)} to ${format(max)}. Nothing was changed.`);
    }
    setRefusal(null);
    setText(null);
    onCommit(typed);
  };
  return (
    <Popover.Root
      onOpenChange={(isOpen) => {
        if (isOpen) return;
        setDraft(null);
        setText(null);
        setRefusal(null);
        onCancel();
      }}
    >
      <Popover.Trigger
        aria-label={`${label}: ${say(shown)}`}
        onDoubleClick={() => onCommit(usual)}
        className="border-b-[1.5px] border-dotted border-spruce font-bold whitespace-nowrap hover:bg-spruce-tint data-[state=open]:bg-spruce-tint"
      >
        {say(shown)}
      </Popover.Trigger>
      <Popover.Portal>
        <Popover.Content
          sideOffset={6}
          collisionPadding={10}
          className="z-50 w-64 rounded-xl border border-hairline-strong bg-sheet p-3.5 shadow-lg"
        >
          <label className="flex items-center justify-between gap-3 text-[13px]">
            <span>{label}</span>
            <span className="flex items-center gap-1.5">
              <input
                inputMode="decimal"
                className="w-16 rounded-md border border-edge bg-paper px-2 py-0.5 text-right font-bold"
                value={text ?? format(shown)}
                onChange={(event) => {
                  setText(event.target.value);
                  setRefusal(null);
                }}
                onFocus={(event) => event.target.select()}
                onBlur={commitText}
                onKeyDown={(event) => {
                  if (event.key === "Enter") commitText();
                }}
              />
              {unit}
            </span>
          </label>
          {refusal && (
            <p role="alert" className="mt-1.5 text-[13px] text-brick">
              {refusal}
            </p>
          )}
          <Slider.Root
            className="relative mt-3 flex h-5 items-center"
            min={min}
            max={max}
            step={step}
            value={[shown]}
            onValueChange={([next]) => {
              setDraft(next!);
              onPreview(next!);
            }}
            onValueCommit={([next]) => {
              setDraft(null);
              onCommit(next!);
            }}
          >
            <Slider.Track className="relative h-1 grow rounded-full bg-hairline-strong">
              <Slider.Range className="absolute h-full rounded-full bg-spruce" />
            </Slider.Track>
            <Slider.Thumb
              aria-label={label}
              className="block size-4 rounded-full border-2 border-sheet bg-spruce shadow"
            />
          </Slider.Root>
          <button type="button" className="mt-2 text-[12px] text-muted underline" onClick={() => onCommit(usual)}>
            Back to {say(usual)}
          </button>
        </Popover.Content>
      </Popover.Portal>
    </Popover.Root>
  );
}

function format(value: number): string {
  return String(Math.round(value * 10) / 10).replace("-", "−");
}
