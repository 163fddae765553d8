import { type ChangedMessage, type Edit, type FileTimes, type Hit, type Pattern, pinsIn } from "../document/index.ts";
import { placeHits, readTimes, resolutionOf } from "../file/index.ts";
import type { MidiFile } from "../smf/index.ts";
import { withBytes } from "./message-table.ts";

/** What a message shall be; null takes it out. */
export interface WantedMessage {
  /** `track:message`. */
  readonly messageId: string;
  readonly to: ChangedMessage;
}

/**
 * Takes messages out or changes them. A message that is a hit is changed as the hit it is: its place and loudness are
 * pinned, and taking it out takes its note-off with it. Tempo and meter messages change the time of the pattern.
 * @param file the take as it was imported
 */
export function changeMessages(pattern: Pattern, file: MidiFile, wanted: readonly WantedMessage[]): Edit {
  const hitsById = new Map(pattern.hits.map((hit) => [hit.id, hit]));
  const placements = placeHits(pattern);
  const pinOf = pinsIn(pattern);
  const removed: Hit[] = [];
  const moves: { hitId: string; fromTick: number | null; toTick: number | null }[] = [];
  const velocities: { hitId: string; fromVelocity: number | null; toVelocity: number | null }[] = [];
  const changes: { messageId: string; from?: ChangedMessage; to?: ChangedMessage }[] = [];
  for (const { messageId, to } of wanted) {
    const hit = hitsById.get(messageId);
    if (!hit) {
      const from = pattern.changedMessages[messageId];
      changes.push({ messageId, ...(from === undefined ? {} : { from }), to });
    } else if (to === null) removed.push(hit);
    else {
      // What is as it goes out now was not typed, and stays with the treatment.
      const placed = placements.get(hit.id);
      const toTick = to.tick === placed?.tick ? hit.pinnedTick : pinOf(hit, to.tick);
      const velocity = to.bytes[2] ?? 1;
      const toVelocity = velocity === placed?.velocity ? hit.pinnedVelocity : velocity;
      if (toTick !== hit.pinnedTick) moves.push({ hitId: hit.id, fromTick: hit.pinnedTick, toTick });
      if (toVelocity !== hit.pinnedVelocity) {
        velocities.push({ hitId: hit.id, fromVelocity: hit.pinnedVelocity, toVelocity });
      }
    }
  }
  const edits: Edit[] = [];
  if (removed.length > 0) edits.push({ kind: "removeHits", hits: removed });
  if (moves.length > 0) edits.push({ kind: "moveHits", moves });
  if (velocities.length > 0) edits.push({ kind: "setVelocity", changes: velocities });
  if (changes.length > 0) edits.push({ kind: "changeMessages", changes, times: timesAfter(pattern, file, changes) });
  return edits.length === 1 ? edits[0]! : { kind: "together", edits };
}

function timesAfter(
  pattern: Pattern,
  file: MidiFile,
  changes: readonly { messageId: string; to?: ChangedMessage }[],
): { from: FileTimes; to: FileTimes } | null {
  const isTime = ({ messageId }: { messageId: string }) => {
    const [trackIndex = 0, messageIndex = 0] = messageId.split(":").map(Number);
    const message = file.tracks[trackIndex]?.messages[messageIndex];
    return message?.kind === "meta" && (message.metaType === 0x51 || message.metaType === 0x58);
  };
  // A take on a time of its own is not counted by the messages of its file.
  if (pattern.timeline || !changes.some(isTime)) return null;
  const changedMessages = { ...pattern.changedMessages };
  for (const { messageId, to } of changes) if (to !== undefined) changedMessages[messageId] = to;
  const { meters, tempos } = pattern;
  return { from: { meters, tempos }, to: readTimes(withChanges(file, changedMessages)) };
}

/** The file with messages as a hand changed them. */
function withChanges(file: MidiFile, changed: Pattern["changedMessages"]): MidiFile {
  const { factor } = resolutionOf(file.division);
  const tracks = file.tracks.map(({ messages }, trackIndex) => ({
    messages: messages.flatMap((message, messageIndex) => {
      const change = changed[`${trackIndex}:${messageIndex}`];
      if (change === undefined) return [message];
      return change === null ? [] : [{ ...withBytes(message, change), tick: change.tick / factor }];
    }),
  }));
  return { ...file, tracks };
}
