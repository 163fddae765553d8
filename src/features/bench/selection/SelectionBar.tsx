import { Trash2, VolumeX, X } from "lucide-react";
import { Popover } from "radix-ui";
import { type ReactNode, useState } from "react";
import { Button } from "../../../components/Button.tsx";
import { Hint } from "../../../components/Hint.tsx";
import { MenuButton } from "../../../components/MenuButton.tsx";
import { SentenceChoice } from "../../../components/sentence/SentenceChoice.tsx";
import { SettingRow } from "../../../components/sentence/SettingRow.tsx";
import { ACT_KINDS, type ChoreAct, kindOfAct } from "../../../core/chore/index.ts";
import { TIMING_LIMITS } from "../../../core/document/index.ts";
import { formatGrid, gridName, parseGrid, STRAIGHT_PERCENT } from "../../../core/time/index.ts";
import { useBench, useBenchState } from "../../../store/bench/bench-context.ts";
import { FullnessRow } from "../card/FullnessRow.tsx";
import { muteHits, removePicked } from "../commands/actions.ts";
import { useKeyNames } from "../commands/command-keys.ts";
import { doAndSay } from "../commands/do-and-say.ts";
import { setRole } from "../commands/mark-actions.ts";
import { Phrase } from "../sift/Phrase.tsx";
import { GRID_GROUPS } from "../steps/grid-groups.ts";
import { BarsMenu } from "../tools/BarsMenu.tsx";
import { FillMenu, PasteMenu, RollMenu } from "../tools/WriteMenus.tsx";
import { applyAct, previewAct, previewQuantize, quantizeSelection } from "./selection-actions.ts";

const barButton = "rounded-md border px-2 py-0.5 text-small font-semibold";
const plain = `${barButton} border-hairline-strong text-ink hover:bg-spruce-tint data-[state=open]:bg-spruce-tint`;

const iconOnly = `${plain} flex h-[1.75rem] items-center`;

/** Over the lanes: what can be done with just the selected hits. Without any, how to select some. */
export function SelectionBar() {
  const bench = useBench();
  const count = useBenchState((state) => state.picked.size);
  const keyName = useKeyNames();
  return (
    <section
      aria-label="Selected hits"
      className="flex min-w-0 flex-1 items-center gap-1.5 overflow-x-auto whitespace-nowrap"
    >
      {count === 0 ? (
        <>
          <p className="mr-1 text-small text-muted">Click a hit, or drag around several, to work on just those.</p>
          <FillMenu />
          <RollMenu />
          <PasteMenu />
          <BarsMenu />
        </>
      ) : (
        <>
          <strong className="text-small">
            {count.toLocaleString("en")} {count === 1 ? "hit" : "hits"}
          </strong>
          <Hint text="Clear the selection" keys="Esc">
            <button
              type="button"
              aria-label="Clear"
              className="-ml-1 rounded p-1 text-muted hover:text-ink"
              onClick={() => bench.store.pick(new Set())}
            >
              <X size={14} aria-hidden="true" />
            </button>
          </Hint>
          <Quantize />
          <ActMenu name="Timing" acts={TIMING_ACTS} />
          <ActMenu name="Velocity" acts={VELOCITY_ACTS} />
          <ActMenu name="Sometimes" acts={CHANCE_ACTS}>
            <FullnessRow />
          </ActMenu>
          <MenuButton
            label="Role"
            className={plain}
            groups={[ROLES.map(({ id, name }) => ({ id, name }))]}
            onChoose={(id) => doAndSay(bench, () => setRole(bench, ROLES.find((role) => role.id === id)?.role ?? null))}
          />
          <Hint text="Reassign to another drum or stroke" keys={keyName("revoice")}>
            <button type="button" className={plain} onClick={() => bench.store.showSheet("revoice")}>
              Reassign …
            </button>
          </Hint>
          <RollMenu />
          <Hint text="Mute or unmute" keys={keyName("muteHits")}>
            <button
              type="button"
              aria-label="Mute"
              className={iconOnly}
              onClick={() => doAndSay(bench, () => muteHits(bench))}
            >
              <VolumeX size={15} aria-hidden="true" />
            </button>
          </Hint>
          <Hint text="Remove" keys={keyName("remove")}>
            <button
              type="button"
              aria-label="Remove"
              className={iconOnly}
              onClick={() => doAndSay(bench, () => removePicked(bench))}
            >
              <Trash2 size={15} aria-hidden="true" />
            </button>
          </Hint>
        </>
      )}
    </section>
  );
}

const ROLES = [
  { id: "ghost", name: "Ghost", role: "ghost" },
  { id: "stroke", name: "Normal", role: "stroke" },
  { id: "accent", name: "Accent", role: "accent" },
  { id: "auto", name: "By velocity", role: null },
] as const;

const VELOCITY_ACTS: readonly ChoreAct["kind"][] = ["set", "add", "scale", "range", "evenOut", "contour", "fitIn"];
const CHANCE_ACTS: readonly ChoreAct["kind"][] = ["chance", "window", "ownDeviation", "offset"];
const TIMING_ACTS: readonly ChoreAct["kind"][] = ["shiftMs", "shiftTicks", "humanize", "stretchTime"];

/** Quantize as it was done last, and what it does. */
function Quantize() {
  const bench = useBench();
  const { store } = bench;
  const keyName = useKeyNames();
  const wish = useBenchState((state) => state.selectionQuantize);
  const set = (change: Partial<typeof wish>) => {
    store.wish("selectionQuantize", change);
    previewQuantize(bench);
  };
  const swing = wish.swingPercent ?? STRAIGHT_PERCENT;
  const run = () => {
    doAndSay(bench, () => quantizeSelection(bench));
  };
  return (
    <span className="flex">
      <Hint text="Quantize the selection as set; again for closer" keys={keyName("quantizeSelection")}>
        <button
          type="button"
          className={`${barButton} rounded-r-none border-spruce bg-spruce text-on-spruce`}
          onPointerEnter={() => previewQuantize(bench)}
          onPointerLeave={() => store.endPreview()}
          onClick={run}
        >
          Quantize{wish.grid ? ` ${gridName(wish.grid)}` : ""}, {wish.strengthPercent} %
        </button>
      </Hint>
      <Popover.Root onOpenChange={(isOpen) => !isOpen && store.endPreview()}>
        <Popover.Trigger
          aria-label="Quantize settings"
          className={`${barButton} rounded-l-none border-l-0 border-spruce text-spruce hover:bg-spruce-tint`}
        >
          …
        </Popover.Trigger>
        <Panel name="Quantize the selection">
          <p className="leading-[1.75]">
            Grid{" "}
            <SentenceChoice
              label="Grid of the selection"
              chosenId={wish.grid ? formatGrid(wish.grid) : "lane"}
              groups={[[{ id: "lane", name: "of each lane" }], ...GRID_GROUPS]}
              onChoose={(id) => set({ grid: parseGrid(id) })}
            />
          </p>
          <SettingRow
            limit={TIMING_LIMITS.strengthPercent}
            value={wish.strengthPercent}
            onCommit={(strengthPercent) => set({ strengthPercent })}
          />
          <SettingRow
            limit={TIMING_LIMITS.swingPercent}
            value={swing}
            onCommit={(percent) => set({ swingPercent: percent })}
          />
          <Popover.Close asChild>
            <Button kind="main" className="mt-2 px-3 text-small" onClick={run}>
              Quantize
            </Button>
          </Popover.Close>
        </Panel>
      </Popover.Root>
    </span>
  );
}

/** A few things that can be done to the selection, each a sentence whose values can be set, shown while it is pointed at. */
function ActMenu({ name, acts, children }: { name: string; acts: readonly ChoreAct["kind"][]; children?: ReactNode }) {
  const { store } = useBench();
  const offers = acts.flatMap((kind) => ACT_KINDS[kind].offers.map(({ act }): ChoreAct => act));
  return (
    <Popover.Root onOpenChange={(isOpen) => !isOpen && store.endPreview()}>
      <Popover.Trigger className={plain}>{name}</Popover.Trigger>
      <Panel name={`${name} of the selection`}>
        <ul>
          {offers.map((first, index) => (
            // biome-ignore lint/suspicious/noArrayIndexKey: an offer is its place in the list
            <ActLine key={index} first={first} />
          ))}
        </ul>
        {children}
      </Panel>
    </Popover.Root>
  );
}

function ActLine({ first }: { first: ChoreAct }) {
  const bench = useBench();
  const [act, setAct] = useState(first);
  return (
    <li
      className="flex items-center justify-between gap-3 border-b border-hairline py-1.5 last:border-0"
      onPointerEnter={() => previewAct(bench, act)}
    >
      <span className="min-w-0">
        <Phrase
          phrase={kindOfAct(act).phrase(act)}
          onChange={(next) => {
            setAct(next);
            previewAct(bench, next);
          }}
        />
      </span>
      <Button
        className="shrink-0 px-2.5 py-0 text-small"
        aria-label={`Apply: ${kindOfAct(act).offers[0]!.name}`}
        onFocus={() => previewAct(bench, act)}
        onClick={() => {
          doAndSay(bench, () => applyAct(bench, act));
        }}
      >
        Apply
      </Button>
    </li>
  );
}

function Panel({ name, children }: { name: string; children: ReactNode }) {
  return (
    <Popover.Portal>
      <Popover.Content
        align="start"
        sideOffset={6}
        collisionPadding={10}
        aria-label={name}
        className="z-50 w-[330px] rounded-xl border border-hairline-strong bg-sheet p-3.5 shadow-lg"
      >
        {children}
      </Popover.Content>
    </Popover.Portal>
  );
}
