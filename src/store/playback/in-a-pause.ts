/** So long without a key or a press is a pause of the hands. */
const PAUSE_MS = 3000;
/** Hands that never rest are waited for no longer than this. */
const LATEST_MS = 15_000;
const OF_HANDS = ["keydown", "pointerdown", "wheel"] as const;

/**
 * Does something in the first pause of the hands: what is made ahead takes nothing from whoever is at work.
 * @param hands what tells of them
 * @returns what gives it up
 */
export function inAPause(task: () => void, hands: EventTarget = window): () => void {
  let pause = setTimeout(run, PAUSE_MS);
  const latest = setTimeout(run, LATEST_MS);
  for (const sort of OF_HANDS) hands.addEventListener(sort, wait, { capture: true, passive: true });
  function wait(): void {
    clearTimeout(pause);
    pause = setTimeout(run, PAUSE_MS);
  }
  function giveUp(): void {
    clearTimeout(pause);
    clearTimeout(latest);
    for (const sort of OF_HANDS) hands.removeEventListener(sort, wait, { capture: true });
  }
  function run(): void {
    giveUp();
    task();
  }
  return giveUp;
}
