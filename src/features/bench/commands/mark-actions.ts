import { markHits } from "../../../core/commands/index.ts";
import { type Role, roleWord } from "../../../core/document/index.ts";
import type { Bench } from "../../../store/bench/bench-context.ts";
import { hitCount, needPicked } from "./actions.ts";

// What a hand says of hits, for the treatments to know.

type Said = string | null | void;

/** Says which role the picked hits have; null leaves it to their loudness again. */
export function setRole(bench: Bench, role: Role | null): Said {
  return needPicked(bench, (placed) => {
    const hits = placed.map(({ hit }) => hit);
    const count = hitCount(hits.length);
    const words = role ? `${count} as ${roleWord(role, hits.length)}` : `${count} by loudness`;
    bench.store.commit(`Count ${words}`, markHits(hits, { role: role ?? undefined }));
    return role ? `Counts ${words}, however loud.` : `The role of ${words} again.`;
  });
}

/** Says how much of their lane's swing the picked hits follow; null for as their lane says. */
export function setSwingShare(bench: Bench, sharePercent: number | null): Said {
  return needPicked(bench, (placed) => {
    const hits = placed.map(({ hit }) => hit);
    const count = hitCount(hits.length);
    const how = sharePercent === null ? "as their lane does" : sharePercent === 0 ? "off" : `${sharePercent} %`;
    bench.store.commit(`Swing ${count} ${how}`, markHits(hits, { swingSharePercent: sharePercent ?? undefined }));
    if (sharePercent === null) return `${count} ${hits.length === 1 ? "swings" : "swing"} as the lane does.`;
    if (sharePercent === 0) return `${count} ${hits.length === 1 ? "stays" : "stay"} straight while the others swing.`;
    return `${count} ${hits.length === 1 ? "swings" : "swing"} ${sharePercent} % as much as the others.`;
  });
}
