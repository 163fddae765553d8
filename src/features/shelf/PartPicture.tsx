import type { ProjectCard } from "../../store/server-api.ts";

const WIDTH = 264;
const HEIGHT = 66;
const TALLEST_ROW = 14;
const FIN_WIDTH = 7;

/** The first bars of a part as small fins, a row for each family of drums. */
export function PartPicture({ thumbnail }: { thumbnail: ProjectCard["thumbnail"] }) {
  const rowHeight = Math.min(TALLEST_ROW, HEIGHT / Math.max(1, thumbnail.rows.length));
  return (
    <svg
      viewBox={`0 0 ${WIDTH} ${HEIGHT}`}
      width={WIDTH}
      height={HEIGHT}
      aria-hidden="true"
      className="hidden lg:block"
    >
      {thumbnail.rows.map(({ family, hits }, row) => (
        <path
          key={family}
          fill={`var(--${family})`}
          d={hits.map((hit) => finPath(hit, (row + 1) * rowHeight - 1, rowHeight)).join("")}
        />
      ))}
    </svg>
  );
}

function finPath([place, loudness]: readonly [number, number], base: number, rowHeight: number): string {
  const x = place * (WIDTH - FIN_WIDTH);
  const top = base - 2 - loudness * (rowHeight - 4);
  return `M${x.toFixed(1)} ${base}V${top.toFixed(1)}q1.2 ${(base - top) * 0.8} ${FIN_WIDTH} ${base - top}z`;
}
