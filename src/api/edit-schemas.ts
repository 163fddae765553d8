import { EDIT_SHAPES } from "../core/document/index.ts";
import { shared } from "../core/document/shapes/values.ts";
import { id, record } from "../core/json-shape.ts";
import { LONGEST_LABEL } from "./limits.ts";

// Edits as they cross the wire. The server checks them with Ajv, and a page before it does them, by the same schema.

/** One entry of the log; what it refers to is in `logDefs`. */
export const logEntry = record({
  id,
  kind: { enum: ["do", "undo", "redo"] },
  label: { type: "string", maxLength: LONGEST_LABEL },
  edit: shared("edit"),
});

/** What requests and files with log entries refer to. */
export const logDefs = { $defs: { ...EDIT_SHAPES, logEntry } };
