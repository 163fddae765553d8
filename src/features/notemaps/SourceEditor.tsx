import { Popover } from "radix-ui";
import { useState } from "react";
import { Button } from "../../components/Button.tsx";
import { Refusal } from "../../components/messages/Refusal.tsx";
import type { PedalRange } from "../../core/document/index.ts";
import { LONGEST_NAME, type NoteSource as Source } from "../../core/notemap/index.ts";

interface SourceEditorProps {
  readonly label: string;
  /** What is shown until it is opened. */
  readonly words: string;
  readonly source: Source;
  /** Outgoing notes have no pedal. */
  readonly hasPedal: boolean;
  /** Refuses by returning why; null takes it. */
  readonly onTake: (source: Source) => string | null;
  /** What else can be done, as buttons that close the editor. */
  readonly actions: readonly { readonly name: string; readonly act: () => string | null }[];
  readonly isQuiet?: boolean;
}

/** A note with its channel and its place of the pedal, as numbers that can be typed. */
export function SourceEditor({ label, words, source, hasPedal, onTake, actions, isQuiet }: SourceEditorProps) {
  const [isOpen, setIsOpen] = useState(false);
  const [refusal, setRefusal] = useState<string | null>(null);
  const attempt = (act: () => string | null) => {
    const why = act();
    setRefusal(why);
    if (why === null) setIsOpen(false);
  };
  return (
    <Popover.Root
      open={isOpen}
      onOpenChange={(willOpen) => {
        setRefusal(null);
        setIsOpen(willOpen);
      }}
    >
      <Popover.Trigger
        aria-label={`${label}: ${words}`}
        className={
          isQuiet
            ? "text-muted underline decoration-dotted hover:text-ink"
            : "border-b-[1.5px] border-dotted border-spruce text-left hover:bg-spruce-tint"
        }
      >
        {words}
      </Popover.Trigger>
      <Popover.Portal>
        <Popover.Content
          sideOffset={6}
          collisionPadding={10}
          className="z-50 w-80 rounded-xl border border-hairline-strong bg-sheet p-3.5 shadow-lg"
        >
          <form
            aria-label={label}
            onSubmit={(event) => {
              event.preventDefault();
              const read = readSource(new FormData(event.currentTarget), hasPedal);
              attempt(() => (typeof read === "string" ? read : onTake(read)));
            }}
          >
            <div className="grid grid-cols-[auto_1fr] items-center gap-x-3 gap-y-2">
              <NumberField name="note" label="Note" value={source.note} />
              <NumberField
                name="channel"
                label="Channel"
                value={source.channel === null ? null : source.channel + 1}
                empty={hasPedal ? "any" : "as it came"}
              />
              {hasPedal && (
                <>
                  <NumberField name="from" label="Pedal from" value={source.pedal?.from ?? null} empty="anywhere" />
                  <NumberField name="to" label="to" value={source.pedal?.to ?? null} empty="anywhere" />
                  <label className="col-span-2 grid grid-cols-subgrid items-center">
                    <span className="text-small">Track</span>
                    <input
                      name="track"
                      autoComplete="off"
                      maxLength={LONGEST_NAME}
                      placeholder="any"
                      defaultValue={source.track ?? ""}
                      className={`${FIELD} w-44`}
                    />
                  </label>
                </>
              )}
            </div>
            {hasPedal && <p className="mt-1.5 text-fine text-muted">The pedal is 0 when open, 127 when pressed.</p>}
            {refusal && <Refusal className="mt-2 text-small">{refusal}</Refusal>}
            <div className="mt-3 flex flex-wrap items-center gap-2">
              <Button type="submit" kind="main">
                Take
              </Button>
              {actions.map(({ name, act }) => (
                <Button key={name} kind="plain" className="px-2" onClick={() => attempt(act)}>
                  {name}
                </Button>
              ))}
            </div>
          </form>
        </Popover.Content>
      </Popover.Portal>
    </Popover.Root>
  );
}

const FIELD =
  "rounded-md border border-edge bg-paper px-2 py-0.5 font-bold placeholder:font-normal placeholder:text-muted";

interface NumberFieldProps {
  readonly name: string;
  readonly label: string;
  readonly value: number | null;
  /** What an empty field means. */
  readonly empty?: string;
}

function NumberField({ name, label, value, empty }: NumberFieldProps) {
  return (
    <label className="col-span-2 grid grid-cols-subgrid items-center">
      <span className="text-small">{label}</span>
      <input
        name={name}
        inputMode="numeric"
        autoComplete="off"
        placeholder={empty}
        defaultValue={value ?? ""}
        className={`${FIELD} w-24`}
        onFocus={(event) => event.target.select()}
      />
    </label>
  );
}

/** Reads what was typed, or says what cannot be read. */
function readSource(form: FormData, hasPedal: boolean): Source | string {
  const read = (name: string) => {
    const text = String(form.get(name) ?? "").trim();
    return text === "" ? null : Number(text);
  };
  const [note, channel, from, to] = ["note", "channel", "from", "to"].map(read) as [
    number | null,
    number | null,
    number | null,
    number | null,
  ];
  if (note === null || !Number.isInteger(note) || note < 0 || note > 127) return "Type a note from 0 to 127.";
  if (channel !== null && !(Number.isInteger(channel) && channel >= 1 && channel <= 16)) {
    return "Channels go from 1 to 16; leave the field empty for any.";
  }
  const isNoPedal = !hasPedal || (from === null && to === null);
  const pedal: PedalRange | null = isNoPedal ? null : { from: from ?? 0, to: to ?? 127 };
  const track = String(form.get("track") ?? "").trim();
  return { note, channel: channel === null ? null : channel - 1, pedal, ...(track === "" ? {} : { track }) };
}
