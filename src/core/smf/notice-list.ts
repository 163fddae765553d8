import type { Notice } from "./midi-file.ts";

/** A file of noise would bring a notice for every few bytes; nobody reads more than this. */
const MOST_NOTICES = 100;

export class NoticeList {
  readonly #notices: Notice[] = [];
  #unlisted = 0;

  add(code: string, message: string, byteOffset: number): void {
    if (this.#notices.length < MOST_NOTICES) this.#notices.push({ code, message, byteOffset });
    else this.#unlisted++;
  }

  list(): readonly Notice[] {
    if (this.#unlisted === 0) return this.#notices;
    const last = this.#notices[this.#notices.length - 1]!;
    return [
      ...this.#notices,
      { code: "file.moreNotices", message: `${this.#unlisted} more places were damaged.`, byteOffset: last.byteOffset },
    ];
  }
}
