import { applyEdit, baseTick, type Edit, type Hit, type Pattern } from "../../core/document/index.ts";
import { addPlayed, replaceBy } from "../../core/record/index.ts";
import type { PlayInSettings } from "./play-in-state.ts";
import type { Session } from "./session.ts";

/** Puts hits of one pass into a take, with what gives way to them, and quantizes the lanes that they come into. */
export function editOfPlayed(
  pattern: Pattern,
  session: Session,
  settings: PlayInSettings,
  pass: number,
  hits: readonly Hit[],
): Edit {
  const add = addPlayed(pattern, hits);
  const edits: Edit[] = [replacing(pattern, session, settings, pass, hits), add];
  if (settings.quantizes) edits.push(quantizing(applyEdit(pattern, add), hits, settings));
  // Edits within edits are not stored: what is played comes in one.
  return { kind: "together", edits: edits.flatMap((edit) => (edit.kind === "together" ? edit.edits : [edit])) };
}

/** What gives way to strokes that are played now. */
function replacing(
  pattern: Pattern,
  { loop, startTick }: Session,
  { mode }: PlayInSettings,
  pass: number,
  hits: readonly Hit[],
): Edit {
  const none: Edit = { kind: "together", edits: [] };
  if (mode !== "replaceDrums" && mode !== "replaceAll") return none;
  const last = hits.reduce((most, hit) => Math.max(most, baseTick(hit)), startTick);
  const voiceIds = mode === "replaceAll" ? null : hits.map(({ voiceId }) => voiceId);
  return replaceBy(pattern, loop ?? { startTick, endTick: last + 1 }, voiceIds, pass);
}

/** Lanes that are not quantized yet are, as strokes come in. What a person has set stays, and so does what was struck. */
function quantizing({ lanes }: Pattern, hits: readonly Hit[], { grid, strengthPercent }: PlayInSettings): Edit {
  const played = new Set(hits.map(({ voiceId }) => voiceId));
  const changes = lanes.flatMap(({ voiceId, treatment }) => {
    if (!played.has(voiceId) || treatment.timing.isOn) return [];
    const { stretches: _stretches, ghostGrid: _ghosts, ...rest } = treatment.timing;
    const timing = { ...rest, isOn: true, grid, strengthPercent, pocketMs: 0 };
    return [{ voiceId, from: treatment, to: { ...treatment, timing } }];
  });
  return changes.length === 0 ? { kind: "together", edits: [] } : { kind: "setTreatments", changes };
}
