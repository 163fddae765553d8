import { toast } from "sonner";

/** What can be done about a message, such as taking back what it tells of. */
export interface Remedy {
  readonly label: string;
  readonly act: () => void;
}

const SHOWN_MS = 6000;
const LONG_MS = 10_000;
/** Words that take longer to read than the usual time. */
const LONG = 90;

/**
 * Tells the person what was done, or why it was not. Two messages stand side by side; the same one twice is one.
 * Nothing is said of nothing.
 */
export function say(words: string | null | undefined | void, remedy?: Remedy): void {
  if (!words) return;
  toast(words, {
    id: words,
    duration: words.length > LONG ? LONG_MS : SHOWN_MS,
    ...(remedy ? { action: { label: remedy.label, onClick: remedy.act } } : {}),
  });
}

/** Tells of something that went wrong, in words or as the server says it. */
export function sayTrouble(
  trouble: string | { readonly message: string; readonly where?: string | undefined; readonly remedy: string },
): void {
  const words =
    typeof trouble === "string"
      ? trouble
      : `${trouble.message}${trouble.where ? ` (${trouble.where})` : ""} ${trouble.remedy}`;
  toast.error(words, { id: words, duration: LONG_MS });
}

/** Something that a person has to know and must not miss: it stands until it is closed. */
export function sayUntilClosed(words: string): void {
  toast.error(words, { id: words, duration: Number.POSITIVE_INFINITY, closeButton: true });
}
