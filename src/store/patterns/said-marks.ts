import { checkOf } from "../../api/check-shape.ts";
import { patternMark } from "../../api/mark-schema.ts";
import { isSameValue } from "../../core/document/index.ts";
import { isBlankMark, type PatternMark } from "../../core/pattern/index.ts";
import { forget, keep, keptKeys, readKept } from "../project/browser-store.ts";
import { isRefusal, setMark } from "../server-api.ts";

// What was said of patterns and is not known to be on the server: of each pattern the last word, under a key of its own. It outlasts the
// page, so that a word is not lost that was said just before it was left, or while the server was away.

const KEYS = "marten.said.";
const check = checkOf(patternMark);

const keyOf = ({ played }: PatternMark) => KEYS + played;
const saidUnder = (key: string) => readKept<PatternMark>(key, check);

/** What is not on the server yet. */
export const unsentMarks = (): readonly PatternMark[] => keptKeys(KEYS).flatMap((key) => saidUnder(key) ?? []);

/** Lays marks over a list of them: each takes the place of what was said of the same pattern. */
export function withSaid(list: readonly PatternMark[], said: readonly PatternMark[]): readonly PatternMark[] {
  const anew = new Set(said.map(({ played }) => played));
  return [...list.filter(({ played }) => !anew.has(played)), ...said.filter((mark) => !isBlankMark(mark))];
}

/** Requests wait for one another: an earlier word must not arrive after a later one. */
let sending: Promise<unknown> = Promise.resolve();

/**
 * Sends what is said now, and what was said before and is not on the server.
 * @throws ServerProblem of the first that the server did not take. What it refuses is forgotten; what did not arrive stays.
 */
export function sendMarks(said?: PatternMark): Promise<void> {
  // What cannot be read again is not kept: the server says what is wrong with it.
  const isKept = said === undefined || (check(said) === null && keep(keyOf(said), said));
  const turn = sending.then(() => sendInTurn(isKept ? undefined : said));
  // Whoever asked for it is told what went wrong; the next one only waits for it.
  sending = turn.catch(() => {});
  return turn;
}

/** @param unkept what is not kept in the browser */
async function sendInTurn(unkept?: PatternMark): Promise<void> {
  let problem: unknown = null;
  for (const key of keptKeys(KEYS)) {
    try {
      await sendKept(key);
    } catch (error) {
      // One that is not taken keeps no other from going.
      problem ??= error;
    }
  }
  // Later than what is kept of the same pattern, which was said before.
  if (unkept) await setMark(unkept);
  if (problem) throw problem;
}

/** Sends what is kept under a key, until that is what was sent last. */
async function sendKept(key: string): Promise<void> {
  for (let mark = saidUnder(key); mark; mark = saidUnder(key)) {
    try {
      await setMark(mark);
    } catch (error) {
      if (isRefusal(error)) forgetIfLast(key, mark);
      throw error;
    }
    forgetIfLast(key, mark);
  }
}

/** Another word may have been said of it meanwhile. */
function forgetIfLast(key: string, sent: PatternMark): void {
  const last = saidUnder(key);
  if (last && isSameValue(last, sent)) forget(key);
}
