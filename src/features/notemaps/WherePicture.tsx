import type { NoteUsage } from "../../core/overview/index.ts";

/** Where in the take a note plays: a stroke for each part of it, as tall as the note is frequent there. */
export function WherePicture({ usage, ink }: { usage: NoteUsage; ink: string }) {
  const most = Math.max(1, ...usage.perPlace);
  const path = [...usage.perPlace]
    .flatMap((count, place) => (count === 0 ? [] : [`M${place + 0.5} 12v${-Math.max(2, (count / most) * 12)}`]))
    .join("");
  return (
    <svg
      viewBox={`0 0 ${usage.perPlace.length} 12`}
      preserveAspectRatio="none"
      className="h-3 w-[84px] shrink-0"
      aria-hidden="true"
    >
      <path d={path} stroke={`var(--${ink})`} strokeWidth="0.9" />
    </svg>
  );
}
