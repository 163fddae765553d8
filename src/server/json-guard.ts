import { DEEPEST_JSON, MOST_JSON_VALUES } from "../api/limits.ts";
import { ProblemError } from "./problem-error.ts";

const QUOTE = 0x22;
const BACKSLASH = 0x5c;
const COMMA = 0x2c;
/** Brackets and braces differ in one bit. */
const OPENING = 0x5b;
const CLOSING = 0x5d;
const WITHOUT_BRACE = ~0x20;

/**
 * Looks at JSON while it comes in, before it is parsed: sixty megabytes of brackets would keep the parser, and everybody else, busy for
 * seconds. Hot: it looks at every byte once and keeps four numbers.
 */
export class JsonGuard {
  #depth = 0;
  #values = 0;
  #isInString = false;
  #isEscaped = false;

  /** @throws ProblemError 400 as soon as the text is deeper or longer than anything that is sent here */
  look(bytes: Uint8Array): void {
    for (let at = 0; at < bytes.length; at++) {
      const byte = bytes[at]!;
      if (this.#isInString) {
        if (this.#isEscaped) this.#isEscaped = false;
        else if (byte === BACKSLASH) this.#isEscaped = true;
        else if (byte === QUOTE) this.#isInString = false;
      } else if (byte === QUOTE) this.#isInString = true;
      else if (byte === COMMA) this.#values++;
      else if ((byte & WITHOUT_BRACE) === OPENING) {
        this.#values++;
        if (++this.#depth > DEEPEST_JSON) throw refusal("is nested deeper than anything that is sent here");
      } else if ((byte & WITHOUT_BRACE) === CLOSING) this.#depth--;
    }
    if (this.#values > MOST_JSON_VALUES) throw refusal("holds more values than anything that is sent here");
  }
}

function refusal(what: string): ProblemError {
  return new ProblemError(400, {
    code: "request.json",
    message: `The request ${what}.`,
    remedy: "Reload the page and try again.",
  });
}
