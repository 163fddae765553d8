import type { Edit } from "./edit-kinds.ts";
import type { Pattern } from "./pattern.ts";

/**
 * The ids of the hits that an edit adds, changes or removes.
 * @param pattern what the edit made: another time touches every hit of it
 */
export function touchedHitIds(edit: Edit, pattern: Pattern): readonly string[] {
  switch (edit.kind) {
    case "moveHits":
      return edit.moves.map((move) => move.hitId);
    case "setVelocity":
    case "setLengths":
    case "markHits":
    case "reassignHits":
      return edit.changes.map((change) => change.hitId);
    case "muteHits":
      return edit.hitIds;
    case "addHits":
    case "removeHits":
      return edit.hits.map((hit) => hit.id);
    case "setTreatments":
    case "setOutgoingMap":
    case "changeMessages":
    case "arrange":
    case "keepSide":
    case "turnSide":
      return [];
    case "together":
      return edit.edits.flatMap((one) => touchedHitIds(one, pattern));
    case "retime":
      return pattern.hits.map((hit) => hit.id);
    case "setDrumStream":
      return edit.change.hits.map((hit) => hit.id);
    default:
      return edit satisfies never;
  }
}
