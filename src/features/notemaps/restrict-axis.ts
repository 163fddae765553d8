import type { Modifier } from "@dnd-kit/core";

/** Drums move up and down, not out of the table. */
export const restrictToVerticalAxis: Modifier = ({ transform }) => ({ ...transform, x: 0 });
