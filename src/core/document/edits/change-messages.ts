import { orNull, record } from "../../json-shape.ts";
import type { MeterChange, TempoChange } from "../../time/index.ts";
import type { ChangedMessage, Pattern } from "../pattern.ts";
import { changedMessage, meters, tempos } from "../shapes/pattern-shape.ts";
import { fromTo, list } from "../shapes/values.ts";
import { isSameValue, StaleEditError } from "../stale.ts";
import type { EditKind } from "./edit-kind.ts";

/** Messages that are no hits are taken out, changed, or put back as they came; a value that is left out is as it came. */
export interface ChangeMessages {
  readonly kind: "changeMessages";
  readonly changes: readonly MessageChange[];
  /** Meter and tempo, if the messages make them others. */
  readonly times: { readonly from: FileTimes; readonly to: FileTimes } | null;
}

interface MessageChange {
  readonly messageId: string;
  readonly from?: ChangedMessage;
  readonly to?: ChangedMessage;
}

export interface FileTimes {
  readonly meters: readonly MeterChange[];
  readonly tempos: readonly TempoChange[];
}

const timesOf = ({ meters, tempos }: Pattern): FileTimes => ({ meters, tempos });

/** An absent value must stay absent through JSON. */
function messageChange(
  messageId: string,
  from: ChangedMessage | undefined,
  to: ChangedMessage | undefined,
): MessageChange {
  return { messageId, ...(from === undefined ? {} : { from }), ...(to === undefined ? {} : { to }) };
}

export const changeMessages: EditKind<ChangeMessages> = {
  apply(pattern, { changes, times }) {
    const changedMessages: Record<string, ChangedMessage> = { ...pattern.changedMessages };
    for (const { messageId, from, to } of changes) {
      if (!isSameValue(changedMessages[messageId], from)) {
        throw new StaleEditError(`The message ${messageId} has changed since this edit was made.`);
      }
      if (to === undefined) delete changedMessages[messageId];
      else changedMessages[messageId] = to;
    }
    if (times && !isSameValue(timesOf(pattern), times.from)) {
      throw new StaleEditError("Meter or tempo have changed since this edit was made.");
    }
    return { ...pattern, changedMessages, ...times?.to };
  },
  invert: ({ kind, changes, times }) => ({
    kind,
    changes: changes.toReversed().map(({ messageId, from, to }) => messageChange(messageId, to, from)),
    times: times && { from: times.to, to: times.from },
  }),
  isEmpty: ({ changes, times }) =>
    changes.every(({ from, to }) => isSameValue(from, to)) && (times === null || isSameValue(times.from, times.to)),
  touches: ({ times }) => ({
    hitIds: [],
    parts: times ? ["changedMessages", "meters", "tempos"] : ["changedMessages"],
  }),
  between(from, to) {
    const ids = new Set([...Object.keys(from.changedMessages), ...Object.keys(to.changedMessages)]);
    const changes = [...ids].flatMap((messageId) => {
      const [before, after] = [from.changedMessages[messageId], to.changedMessages[messageId]];
      return isSameValue(before, after) ? [] : [messageChange(messageId, before, after)];
    });
    const [before, after] = [timesOf(from), timesOf(to)];
    return [
      { kind: "changeMessages", changes, times: isSameValue(before, after) ? null : { from: before, to: after } },
    ];
  },
  fields: {
    changes: list({
      type: "object",
      properties: {
        messageId: { type: "string", pattern: "^\\d{1,5}:\\d{1,9}$" },
        from: changedMessage,
        to: changedMessage,
      },
      required: ["messageId"],
      additionalProperties: false,
    }),
    times: orNull(fromTo(record({ meters, tempos }))),
  },
};
