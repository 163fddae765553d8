/**
 * The smallest and the largest of some numbers. A call with each of them as an argument would end the page at some hundred thousand.
 * @returns infinity and minus infinity if there are none
 */
export function extentOf(values: Iterable<number>): readonly [smallest: number, largest: number] {
  let smallest = Number.POSITIVE_INFINITY;
  let largest = Number.NEGATIVE_INFINITY;
  for (const value of values) {
    if (value < smallest) smallest = value;
    if (value > largest) largest = value;
  }
  return [smallest, largest];
}
