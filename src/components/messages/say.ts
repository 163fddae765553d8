import { toast } from "sonner";
import { dropMessage, type Message, messages, PLACE_LABEL, type Remedy, showMessage } from "./message-list.ts";

const SHOWN_MS = 6000;
const LONG_MS = 10_000;
/** Words that take longer to read than the usual time. */
const LONG = 90;

/** In the place that the screen has for it, which covers nothing; else at the edge of the page. */
function show(message: Message, forMs: number): void {
  if (messages.getState().placeCount > 0) {
    showMessage(message);
    if (!message.stays) afterShown(message.words, forMs, PLACE, () => dropMessage(message));
    return;
  }
  const { words, isTrouble, remedy, stays } = message;
  const id = (isTrouble ? toast.error : toast)(words, {
    id: words,
    duration: Number.POSITIVE_INFINITY,
    closeButton: stays,
    ...(remedy ? { action: { label: remedy.label, onClick: remedy.act } } : {}),
  });
  if (!stays) afterShown(words, forMs, EDGE, () => toast.dismiss(id));
}

const PLACE = `section[aria-label=${PLACE_LABEL}]`;
const EDGE = "[data-sonner-toaster]";
const TICK_MS = 250;

/** Words that are said again begin their time anew. */
const timers = new Map<string, ReturnType<typeof setInterval>>();

/**
 * Does something once there was so much time to read, which is counted in ticks that the page got round to: one that was busy, or behind
 * others, has shown nothing meanwhile. Nothing goes from under a pointer or a focus that has come for it.
 */
function afterShown(words: string, ms: number, place: string, act: () => void): void {
  clearInterval(timers.get(words));
  let ticksLeft = Math.ceil(ms / TICK_MS);
  const timer = setInterval(() => {
    if (document.hidden || document.querySelector(`${place}:is(:hover, :focus-within)`)) return;
    if (--ticksLeft > 0) return;
    clearInterval(timer);
    timers.delete(words);
    act();
  }, TICK_MS);
  timers.set(words, timer);
}

/** Tells the person what was done, or why it was not. Nothing is said of nothing. */
export function say(words: string | null | undefined | void, remedy?: Remedy): void {
  if (words) show({ words, isTrouble: false, remedy, stays: false }, words.length > LONG ? LONG_MS : SHOWN_MS);
}

interface Trouble {
  readonly message: string;
  readonly where?: string | undefined;
  readonly remedy: string;
}

/** Tells of something that went wrong, in words or as the server says it. */
export function sayTrouble(trouble: string | Trouble): void {
  const words =
    typeof trouble === "string"
      ? trouble
      : `${trouble.message}${trouble.where ? ` (${trouble.where})` : ""} ${trouble.remedy}`;
  show({ words, isTrouble: true, stays: false }, LONG_MS);
}

/** Something that a person has to know and must not miss: it stands until it is closed. */
export function sayUntilClosed(words: string): void {
  show({ words, isTrouble: true, stays: true }, LONG_MS);
}
