"use client";

import { Popover } from "radix-ui";
import { type RefObject, use, useEffect, useRef, useState } from "react";
import { Units } from "./units.ts";

interface SentenceNumberProps {
  readonly label: string;
  /** Whether it stands in a sentence beside a control of the same name: then its value is said first. */
  readonly isInSentence?: true;
  readonly value: number;
  readonly min: number;
  readonly max: number;
  /** Where the slider ends, if not at the limits. */
  readonly handy?: readonly [min: number, max: number];
  readonly step: number;
  readonly unit: string;
  /** How the sentence says the value, if not as number and unit. */
  readonly say?: (value: number) => string;
  /** What a double-click goes back to. */
  readonly usual: number;
  /** Called while it changes. */
  readonly onPreview?: ((value: number) => void) | undefined;
  /** Called when the change is over. */
  readonly onCommit: (value: number) => void;
  /** Called when a change was given up. */
  readonly onCancel?: (() => void) | undefined;
}

/**
 * A number in a sentence: opened, it can be dragged or typed, and what it does is shown while it changes. The sentence itself
 * waits until it is let go, or every digit would move the words behind it.
 */
export function SentenceNumber(props: SentenceNumberProps) {
  const { label, value, usual, isInSentence, onCommit, onCancel } = props;
  const words = wordsOf(value, props);
  const isClosed = useRef(true);
  const [isOpen, setIsOpen] = useState(false);
  const open = (isOpening: boolean) => {
    isClosed.current = !isOpening;
    setIsOpen(isOpening);
    if (!isOpening) onCancel?.();
  };
  return (
    <Popover.Root open={isOpen} onOpenChange={open}>
      <Popover.Trigger
        aria-label={isInSentence ? `${words}, ${label.toLowerCase()}` : `${label}: ${words}`}
        onDoubleClick={() => onCommit(usual)}
        className="border-b-[1.5px] border-dotted border-spruce font-bold whitespace-nowrap hover:bg-spruce-tint data-[state=open]:bg-spruce-tint"
      >
        {words}
      </Popover.Trigger>
      <Popover.Portal>
        <Popover.Content
          aria-label={label}
          sideOffset={6}
          collisionPadding={10}
          className="z-50 w-64 rounded-xl border border-hairline-strong bg-sheet p-3.5 shadow-lg"
        >
          <NumberSetting {...props} isClosed={isClosed} onDone={() => open(false)} />
        </Popover.Content>
      </Popover.Portal>
    </Popover.Root>
  );
}

const wordsOf = (value: number, { say, unit }: SentenceNumberProps) => (say ? say(value) : `${format(value)} ${unit}`);

/** What is in the sheet, as long as it is open. */
interface NumberSettingProps extends SentenceNumberProps {
  readonly isClosed: RefObject<boolean>;
  readonly onDone: () => void;
}

function NumberSetting({ isClosed, onDone, ...props }: NumberSettingProps) {
  const { label, value, min, max, handy = [min, max], step, unit, usual, onPreview, onCommit } = props;
  const [refusal, setRefusal] = useState<string | null>(null);
  const rail = useRef<HTMLInputElement>(null);
  const field = useRef<HTMLInputElement>(null);
  /** What was written into the field last, and not typed. */
  const written = useRef(format(value));
  const inUnit = use(Units);
  const commit = useRef(onCommit);
  commit.current = onCommit;
  // The browser moves the thumb itself, and the number beside it is written without React: a drag does both on every frame.
  useEffect(() => {
    if (rail.current) rail.current.value = String(value);
    // A value that comes from elsewhere does not take the place of what somebody is typing.
    const isTyping = field.current !== null && field.current.value !== written.current;
    written.current = format(value);
    if (!field.current || isTyping || field.current.value === written.current) return;
    field.current.value = written.current;
    // It was selected when the field was entered: what is typed next takes its place still, and is not put behind it.
    if (document.activeElement === field.current) field.current.select();
  }, [value]);
  useEffect(() => {
    const input = rail.current;
    // React calls “input” its change; this is the one that comes when it is let go.
    const letGo = () => {
      // It also comes when the rail goes away under a pointer that holds it, as after Escape: that is given up, not done.
      if (!isClosed.current) commit.current(Number(input?.value));
    };
    input?.addEventListener("change", letGo);
    return () => input?.removeEventListener("change", letGo);
  }, [isClosed]);
  const show = (shown: number) => {
    written.current = format(shown);
    if (field.current) field.current.value = written.current;
  };
  /** The value that was typed, in the unit of this setting; not a number if that cannot be said. */
  const typedValue = (text: string) => {
    const [, number = "", typedUnit = ""] = /^\s*([+-]?[\d.]+)\s*(\D*?)\s*$/.exec(plainText(text)) ?? [];
    if (number === "") return Number.NaN;
    const isOwn = typedUnit === "" || unit.toLowerCase().startsWith(typedUnit.toLowerCase());
    return isOwn ? Number(number) : (inUnit(Number(number), typedUnit.toLowerCase(), unit) ?? Number.NaN);
  };
  /** Why a typed text is no value; null if it is. */
  const refusalOf = (text: string, typed: number) => {
    if (!Number.isFinite(typed))
      return `“${text.trim()}” is not a number${unit && ` of ${unit}`}. Nothing was changed.`;
    const isOutside = typed < min || typed > max;
    return isOutside
      ? `${format(typed)} is out of range: ${format(min)} to ${format(max)}. Nothing was changed.`
      : null;
  };
  /** Takes what was typed. Returns whether it is fine as it stands. */
  const commitText = (): boolean => {
    const text = field.current?.value ?? "";
    if (text.trim() === "") show(value);
    // What a drag has written is done when it is let go.
    if (text.trim() === "" || text === written.current) return true;
    const typed = typedValue(text);
    const refused = refusalOf(text, typed);
    setRefusal(refused);
    if (refused !== null) return false;
    written.current = text;
    onCommit(typed);
    return true;
  };
  return (
    <>
      <label className="flex items-center justify-between gap-3 text-small">
        <span>{label}</span>
        <span className="flex items-center gap-1.5">
          <input
            ref={field}
            inputMode="decimal"
            className="w-16 rounded-md border border-edge bg-paper px-2 py-0.5 text-right font-bold"
            defaultValue={format(value)}
            onChange={() => setRefusal(null)}
            onFocus={(event) => event.target.select()}
            onBlur={commitText}
            onKeyDown={(event) => {
              if (event.key === "Enter" && commitText()) onDone();
            }}
          />
          {unit}
        </span>
      </label>
      {refusal && (
        <p role="alert" className="mt-1.5 text-small text-brick">
          {refusal}
        </p>
      )}
      <input
        ref={rail}
        type="range"
        aria-label={label}
        className="mt-3 h-5 w-full accent-spruce"
        min={handy[0]}
        max={handy[1]}
        step={step}
        defaultValue={value}
        onInput={(event) => {
          const next = Number(event.currentTarget.value);
          show(next);
          onPreview?.(next);
        }}
      />
      <button
        type="button"
        className="mt-2 text-fine text-muted underline"
        onClick={() => {
          setRefusal(null);
          show(usual);
          onCommit(usual);
        }}
      >
        Back to {wordsOf(usual, props)}
      </button>
    </>
  );
}

/** With a point and a minus sign as a computer reads them. */
const plainText = (text: string) => text.replace(",", ".").replace("−", "-");

function format(value: number): string {
  return String(Math.round(value * 10) / 10).replace("-", "−");
}
