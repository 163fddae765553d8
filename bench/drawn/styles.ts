import type { Loudness } from "../written/read-parts.ts";

/** One drum of a style: what it may play in a bar, of which each section of a take draws one. */
export interface Line {
  /** Drums of which one plays it, by section. */
  readonly drums: readonly string[];
  readonly ways: readonly (readonly Place[])[];
}

/** A step of a bar on which a drum may play. */
export interface Place {
  readonly step: number;
  readonly loudness: Loudness;
  /** How likely it does, 0 to 1. */
  readonly chance: number;
}

/** What is played in a style, as chances. */
export interface Style {
  readonly name: string;
  readonly bpm: readonly [number, number];
  readonly numerator: number;
  readonly denominator: number;
  readonly stepsOfBar: number;
  /** How late every second step may be, in percent of the pair; null for straight ones. */
  readonly swing: readonly [number, number] | null;
  /** Whether its fills are in threes. */
  readonly isInThrees: boolean;
  readonly lines: readonly Line[];
}

// X is an accent, x a normal stroke, a digit a stroke that is played in so many of ten sections, a dot none. A drum with ~ plays ghosts.
// Where there are two drums with a stroke between, one of them plays it; | stands between ways to play it.
const STYLES_TEXT = `
rock, 90-150, 4/4
h/r X.x.X.x.X.x.X.x.
s ....X.......X...
k X.11..42621.5.31

slow quarters, 56-84, 4/4
h X.x.X.x.X.x.X.x.|X...X...X...X...
s ....X.......X...
k X.....3.6.5...21

funk, 84-118, 4/4
h XxxxXxxxXxxxXxxx|X.xxX.xxX.xxX.xx
s ....X.......X...
s~ .2.2.1.5.6.3.1.4
k X..3..332.62.22.

half-time, 120-168, 4/4
h X.x.X.x.X.x.X.x.
s ........X.......
k X.2...4...42..3.

shuffle, 88-150, 4/4, swing 60-68, threes
h/r XxXxXxXx
s ..X...X.
s~ .3...3.3
k X..5x3.3

jazz, 110-220, 4/4, swing 58-68, threes
r x.XxX.Xx|x.XxxxXx
f ..x...x.
s~ .3.41.33
k 4..3...3

swung sixteenths, 78-104, 4/4, swing 54-64
h XxxxXxxxXxxxXxxx|X.x.X.x.X.x.X.x.
s ....X.......X...
s~ .......4.4.....3
k X..4...3.253...2

bossa, 110-150, 4/4
h x.x.x.x.x.x.x.x.
xs x.....x.....x...
k x.....x.x.....x.

disco, 112-130, 4/4
h Xx.xXx.xXx.xXx.x
o ..X...X...X...X.
k X...X...X...X...
s ....X.......X...

breaks, 164-178, 4/4
h/r X.x.X.x.X.x.X.x.
s ....X.......X...
s~ .......6.6....22
k X.3.......X2....

double kick, 100-170, 4/4
c2/r X...X...X...X...
s ....X.......X...
k XxxxXxxxXxxxXxxx|X8x8X8x8X8x8X8x8

blast, 170-220, 4/4
r x.x.x.x.x.x.x.x.
k X.X.X.X.X.X.X.X.
s .X.X.X.X.X.X.X.X

kick in threes, 100-150, 4/4, threes
h X..X..X..X..
s ...X.....X..
k XxxXxxXxxXxx|X8xX8xX8xX8x

six eight, 90-150, 6/8
h XxxXxx
s ...X..
k X.4.24

twelve eight, 120-200, 12/8
h XxxXxxXxxXxx
s ...X.....X..
s~ .....2.....2
k X....4x.3..3

seven eight, 110-170, 7/8
h X.x.x..|XxXxXxx
s ..X...5
k X2.3x4.

five four, 90-150, 5/4
r X.x.X.x.X.x.X.x.X.x.
s ....X...........X...
s~ .......3...3........
k X.....4...5.5.3.....

train, 90-130, 4/4
s ..X.X.X...X.X.X.
s~ xx.x.x.xxx.x.x.x
k x...x...x...x...
f ....x.......x...

samba, 90-124, 4/4
k x..xX..xx..xX..x
s x..x..x...x.x...
s~ .99.99.999.9.999
f ..x...x...x...x.

waltz, 96-168, 3/4
h X.x.x.|Xxxxxx
k X.....
s ..x.x.
s~ ...2.2

jazz waltz, 120-180, 3/4, swing 60-67, threes
r x.Xxx.
f ..x.x.
k x.....
s~ ...4.4

toms, 84-140, 4/4
k X...X...X...X...
t2 X.4.X.2.4...X.21
t3 .24...4.X.31..4.
ft ..2.31..3.4.2.X.

trap, 130-156, 4/4
h x...x...x...xxxxx...x...x...x.x.|x.x.x...x...x...xxxxx...x...x...
s ................X...............
k X.....3.....3.......4.2.....2...

parade, 88-108, 4/4, swing 55-62
k X.....x...5.5...
s X..X..X...X..X..
s~ .66.66.666.66.66
f ....x.......x...
`;

export const STYLES: readonly Style[] = STYLES_TEXT.trim()
  .split("\n\n")
  .map((block) => readStyle(block.split("\n")));

function pairOf(text: string): readonly [number, number] {
  const [low = 0, high = low] = text.split("-").map(Number);
  return [low, high];
}

function readStyle([head = "", ...rows]: readonly string[]): Style {
  const [name = "", bpm = "", meter = "", ...more] = head.split(", ");
  const [numerator = 4, denominator = 4] = meter.split("/").map(Number);
  const swing = more.find((one) => one.startsWith("swing "));
  return {
    name,
    bpm: pairOf(bpm),
    numerator,
    denominator,
    stepsOfBar: rows[0]!.split(" ")[1]!.split("|")[0]!.length,
    swing: swing ? pairOf(swing.slice("swing ".length)) : null,
    isInThrees: more.includes("threes"),
    lines: rows.map(readLine),
  };
}

function readLine(row: string): Line {
  const [drums = "", ways = ""] = row.split(" ");
  const usual: Loudness = drums.endsWith("~") ? "ghost" : "normal";
  return {
    drums: drums.replace("~", "").split("/"),
    ways: ways.split("|").map((way) =>
      [...way].flatMap((sign, step): Place[] => {
        if (sign === ".") return [];
        const chance = /\d/.test(sign) ? Number(sign) / 10 : 1;
        return [{ step, chance, loudness: sign === "X" ? "accent" : usual }];
      }),
    ),
  };
}
