import { X } from "lucide-react";
import { PageLink } from "../../components/page/PageLink.tsx";
import { counted } from "../../core/ordinal.ts";
import type { ProjectCard } from "../../store/server-api.ts";
import { PartPicture } from "./PartPicture.tsx";

/** A project on the shelf: what it is, what it looks like, and what is left to do. */
export function ProjectRow({ project, onRemove }: { project: ProjectCard; onRemove: () => void }) {
  const { id, name, book, summary, thumbnail } = project;
  const { numerator, denominator } = summary.meter;
  return (
    <li className="group relative grid grid-cols-[minmax(0,1fr)_auto_auto] items-center gap-6 rounded-xl border border-hairline bg-sheet px-4.5 py-3 hover:border-spruce">
      <div className="min-w-0">
        <PageLink
          href={`/bench/${id}`}
          className="text-lead font-bold after:absolute after:inset-0 after:rounded-xl focus-visible:outline-none focus-visible:after:outline-2 focus-visible:after:outline-spruce"
        >
          <span className="break-words">{name}</span>
        </PageLink>
        <p className="text-muted">
          {Math.round(summary.bpm * 10) / 10} bpm, {numerator}/{denominator}
          {book && <span>, {book}</span>}
        </p>
        <p className="text-muted">
          {counted(summary.barCount, "bar")}, {counted(summary.hitCount, "hit")}, {counted(summary.voiceCount, "voice")}
        </p>
      </div>
      <PartPicture thumbnail={thumbnail} />
      <div className="w-40 text-right text-small">
        <p className="font-bold text-amber-text">{whatIsLeft(project)}</p>
        <p className="text-muted">{whenChanged(project.changedAt)}</p>
      </div>
      <button
        type="button"
        aria-label={`Delete ${name}`}
        className="absolute top-1 right-1 rounded-md p-1.5 text-muted opacity-0 group-hover:opacity-100 any-pointer-coarse:opacity-100 hover:text-brick focus-visible:opacity-100"
        onClick={onRemove}
      >
        <X size={15} />
      </button>
    </li>
  );
}

function whatIsLeft({ treatedVoiceCount, unnamedVoiceCount, summary }: ProjectCard): string {
  if (unnamedVoiceCount > 0) return `${unnamedVoiceCount} unmapped ${unnamedVoiceCount === 1 ? "note" : "notes"}`;
  if (treatedVoiceCount === 0) return "not cleaned yet";
  if (treatedVoiceCount < summary.voiceCount) return `${treatedVoiceCount} of ${summary.voiceCount} voices quantized`;
  return "all voices quantized";
}

function whenChanged(changedAt: string): string {
  const changed = new Date(changedAt);
  const minutes = (Date.now() - changed.getTime()) / 60_000;
  if (minutes < 2) return "just now";
  if (minutes < 60) return `${Math.round(minutes)} minutes ago`;
  if (changed.toDateString() === new Date().toDateString()) {
    return `today, ${changed.toLocaleTimeString("en", { hour: "numeric", minute: "2-digit" })}`;
  }
  return changed.toLocaleDateString("en", { day: "numeric", month: "long" });
}
