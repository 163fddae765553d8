import { createStore } from "zustand/vanilla";

/** What can be done about a message, such as taking back what it tells of. */
export interface Remedy {
  readonly label: string;
  readonly act: () => void;
  /** Whether it can still be done; left out where it always can. */
  readonly isOpen?: () => boolean;
}

export interface Message {
  readonly words: string;
  readonly isTrouble: boolean;
  readonly remedy?: Remedy | undefined;
  /** Whether it stays until it is closed. */
  readonly stays: boolean;
}

/** What the page says now, the newest last, and how many places of the page show it. */
export const messages = createStore<{ readonly list: readonly Message[]; readonly placeCount: number }>(() => ({
  list: [],
  placeCount: 0,
}));

/** What the place of a screen that shows them is called. */
export const PLACE_LABEL = "Messages";

/** So many stand beside one another: an older one has been read by then. */
const MOST_MESSAGES = 2;

/** Shows a message until it is dropped; the same words are not said twice at a time. */
export function showMessage(message: Message): void {
  const { list } = messages.getState();
  messages.setState({ list: [...list.filter(({ words }) => words !== message.words), message].slice(-MOST_MESSAGES) });
}

export function dropMessage(message: Message): void {
  messages.setState({ list: messages.getState().list.filter((one) => one !== message) });
}

/** Tells that a place of the page shows messages from now on. Returns what ends it. */
export function holdMessages(): () => void {
  const count = (by: number) => messages.setState({ placeCount: messages.getState().placeCount + by });
  count(1);
  return () => count(-1);
}
