import clsx from "clsx";
import { RadioGroup } from "radix-ui";
import { MenuButton } from "../../../components/MenuButton.tsx";
import type { GridFit } from "../../../core/study/index.ts";
import { formatGrid, type Grid, gridName, parseGrid, sameSteps } from "../../../core/time/index.ts";
import { shareOf } from "../steps/grid-fit.ts";
import { GRID_GROUPS, gridSign } from "../steps/grid-groups.ts";

/** The grids that people reach for; the others are in the menu behind them. */
const USUAL: readonly Grid[] = [
  { family: "straight", denominator: 4 },
  { family: "straight", denominator: 8 },
  { family: "straight", denominator: 16 },
  { family: "triplet", denominator: 8 },
  { family: "triplet", denominator: 16 },
];

interface ChipsProps {
  readonly chosen: Grid;
  /** The grid that the voice was played on; null while that is not known. */
  readonly best: Grid | null;
  readonly fits: readonly GridFit[];
  readonly onPreview: (grid: Grid) => void;
  readonly onChoose: (grid: Grid) => void;
  readonly onCancel: () => void;
}

const percent = (share: number) => `${Math.round(share * 100)} %`;

/** The grids to choose from, each with how well it fits before it is chosen. */
export function GridChips({ chosen, best, fits, onPreview, onChoose, onCancel }: ChipsProps) {
  const shown = [chosen, ...(best ? [best] : [])].reduce<readonly Grid[]>(
    (grids, grid) => (grids.some((one) => sameSteps(one, grid)) ? grids : [...grids.slice(0, -1), grid]),
    USUAL,
  );
  const noteOf = (id: string) => {
    const grid = parseGrid(id);
    const share = grid && shareOf(fits, grid);
    const isBest = grid && best && sameSteps(grid, best);
    return share === null ? {} : { note: `${isBest ? "best, " : ""}fits ${percent(share)}` };
  };
  const chosenShare = shareOf(fits, chosen);
  const isBestChosen = best !== null && sameSteps(chosen, best);
  return (
    <div className="mt-1.5">
      <p className="flex justify-between text-small text-muted">
        <span>
          Grid <strong className="text-ink">{gridName(chosen)}</strong>
          {chosenShare !== null && `, fits ${percent(chosenShare)}`}
        </span>
        {best && <span>{isBestChosen ? "best" : `best: ${gridName(best)}`}</span>}
      </p>
      <div className="mt-1 grid grid-cols-6 gap-1">
        <RadioGroup.Root
          aria-label="Grid"
          value={shown.map(formatGrid).find((_, index) => sameSteps(shown[index]!, chosen)) ?? ""}
          className="col-span-5 grid grid-cols-5 gap-1"
          onPointerLeave={onCancel}
          onValueChange={(id) => {
            const grid = parseGrid(id);
            if (grid) onChoose(grid);
          }}
        >
          {shown.map((grid) => {
            const share = shareOf(fits, grid);
            const isBest = best !== null && sameSteps(grid, best);
            const isChosen = sameSteps(grid, chosen);
            return (
              <RadioGroup.Item
                key={formatGrid(grid)}
                value={formatGrid(grid)}
                aria-label={`${gridName(grid)}${share === null ? "" : `, fits ${percent(share)}`}${isBest ? ", best" : ""}`}
                className={clsx(
                  "relative rounded-md border px-1 pt-0.5 pb-1.5 text-small whitespace-nowrap",
                  isChosen ? "border-amber bg-amber-tint font-bold" : "border-hairline-strong hover:bg-spruce-tint",
                )}
                onPointerEnter={() => onPreview(grid)}
                onClick={() => isChosen && onChoose(grid)}
              >
                {gridSign(grid)}
                {isBest && (
                  <span className="absolute -top-[3px] left-1/2 size-1.5 -translate-x-1/2 rounded-full bg-spruce" />
                )}
                <span className="mx-0.5 mt-0.5 block h-1 rounded-full bg-hairline">
                  <span
                    className="block h-full rounded-full bg-spruce"
                    style={{ width: `${Math.round((share ?? 0) * 100)}%` }}
                  />
                </span>
              </RadioGroup.Item>
            );
          })}
        </RadioGroup.Root>
        <MenuButton
          label="All grids"
          className="rounded-md border border-hairline-strong text-small font-semibold hover:bg-spruce-tint data-[state=open]:bg-spruce-tint"
          groups={GRID_GROUPS.map((group) => group.map((choice) => ({ ...choice, ...noteOf(choice.id) })))}
          onPreview={(id) => {
            const grid = parseGrid(id);
            if (grid) onPreview(grid);
          }}
          onChoose={(id) => {
            const grid = parseGrid(id);
            if (grid) onChoose(grid);
          }}
          onCancel={onCancel}
        >
          …
        </MenuButton>
      </div>
    </div>
  );
}
