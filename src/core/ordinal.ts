/** `1st`, `2nd`, `3rd`, `4th`, `11th`, `22nd`. */
export function ordinal(count: number): string {
  const isTeen = count % 100 >= 11 && count % 100 <= 13;
  const ending = isTeen ? "th" : (["th", "st", "nd", "rd"][count % 10] ?? "th");
  return `${count}${ending}`;
}

/** A number with its noun: `1 voice`, `1,204 hits`. */
export function counted(count: number, noun: string): string {
  return `${count.toLocaleString("en")} ${noun}${count === 1 ? "" : "s"}`;
}
