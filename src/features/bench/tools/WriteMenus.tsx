import { Popover } from "radix-ui";
import { type ReactNode, useEffect, useState } from "react";
import { useStore } from "zustand";
import { Button } from "../../../components/Button.tsx";
import { OneOf } from "../../../components/sentence/OneOf.tsx";
import { SentenceChoice } from "../../../components/sentence/SentenceChoice.tsx";
import { SentenceNumber } from "../../../components/sentence/SentenceNumber.tsx";
import { CURVES, type PastePlan, type PasteWish } from "../../../core/commands/index.ts";
import { ordinal } from "../../../core/ordinal.ts";
import { formatGrid, type Grid, parseGrid } from "../../../core/time/index.ts";
import { type Bench, useBench, useBenchState } from "../../../store/bench/bench-context.ts";
import { clipboard } from "../../../store/bench/clipboard.ts";
import type { BurstPlace, BurstSetting, FillPlace, FillSetting } from "../../../store/bench/write-settings.ts";
import { workingLane } from "../commands/actions.ts";
import { doAndSay } from "../commands/do-and-say.ts";
import { burst, drawGridOf, fill, paste, pastePlan, pasteWords } from "../commands/write-actions.ts";
import { GRID_GROUPS } from "../steps/grid-groups.ts";

const QUARTERS: Grid = { family: "straight", denominator: 4 };

type Said = string | null | void;

/** What opens under a button of the strip, with the button that does it. */
interface StripPopoverProps {
  readonly name: string;
  readonly act: (bench: Bench) => Said;
  readonly onOpen?: (isOpen: boolean) => void;
  readonly children: ReactNode;
}

function StripPopover({ name, act, onOpen, children }: StripPopoverProps) {
  const bench = useBench();
  const [isOpen, open] = useState(false);
  const setIsOpen = (isOpening: boolean) => {
    open(isOpening);
    onOpen?.(isOpening);
  };
  return (
    <Popover.Root open={isOpen} onOpenChange={setIsOpen}>
      <Popover.Trigger className="shrink-0 rounded-md border border-hairline-strong px-2 py-0.5 text-small font-semibold hover:bg-spruce-tint data-[state=open]:bg-spruce-tint">
        {name} …
      </Popover.Trigger>
      <Popover.Portal>
        <Popover.Content
          aria-label={name}
          align="start"
          sideOffset={6}
          collisionPadding={10}
          className="z-50 w-[330px] rounded-xl border border-hairline-strong bg-sheet p-3.5 leading-[1.75] shadow-lg"
        >
          {children}
          <Button
            className="mt-1.5 px-2.5 text-small"
            onClick={() => {
              setIsOpen(false);
              doAndSay(bench, () => act(bench));
            }}
          >
            {name}
          </Button>
        </Popover.Content>
      </Popover.Portal>
    </Popover.Root>
  );
}

interface NumberInProps {
  readonly label: string;
  readonly value: number;
  readonly max: number;
  readonly usual: number;
  readonly say?: (value: number) => string;
  readonly onChange: (value: number) => void;
}

/** A number of what will be written: it is only remembered, so there is nothing to preview. */
function WriteNumber({ say = String, onChange, ...rest }: NumberInProps) {
  return <SentenceNumber {...rest} unit="" say={say} min={1} step={1} onPreview={onChange} onCommit={onChange} />;
}

function GridChoice({ label, value, onChange }: { label: string; value: Grid; onChange: (grid: Grid) => void }) {
  return (
    <SentenceChoice
      label={label}
      chosenId={formatGrid(value)}
      groups={GRID_GROUPS}
      onChoose={(id) => onChange(parseGrid(id) ?? value)}
    />
  );
}

/** Every nth slot of a stretch, in the lane that is worked on. */
export function FillMenu() {
  const laneGrid = useBenchState((state) => {
    const lane = workingLane(state);
    return lane ? drawGridOf(state, lane, 0) : QUARTERS;
  });
  const bench = useBench();
  const hasLoop = useBenchState((state) => state.loop !== null);
  const { where, grid, every, from, velocity } = useBenchState((state) => state.fill);
  const set = (change: Partial<FillSetting>) => bench.store.wish("fill", change);
  const places: readonly { readonly id: FillPlace; readonly name: string }[] = [
    { id: "meant", name: hasLoop ? "in the loop" : "in the bars in view" },
    { id: "picked", name: "from the first to the last selected hit" },
  ];
  return (
    <StripPopover name="Fill" act={fill}>
      <p>
        Every{" "}
        <WriteNumber
          label="Every nth"
          value={every}
          max={16}
          usual={2}
          say={ordinal}
          onChange={(value) => set({ every: value })}
        />{" "}
        of the <GridChoice label="Fill grid" value={grid ?? laneGrid} onChange={(value) => set({ grid: value })} /> from
        the{" "}
        <WriteNumber
          label="From the nth"
          value={from}
          max={16}
          usual={1}
          say={ordinal}
          onChange={(value) => set({ from: value })}
        />
        , at velocity{" "}
        <WriteNumber
          label="Fill velocity"
          value={velocity}
          max={127}
          usual={80}
          onChange={(value) => set({ velocity: value })}
        />
        ,{" "}
        <OneOf label="Where to fill" chosenId={where} choices={places} onChoose={(chosen) => set({ where: chosen })} />.
      </p>
    </StripPopover>
  );
}

/** Even hits in a row that lead somewhere. */
export function RollMenu() {
  const bench = useBench();
  const hasLoop = useBenchState((state) => state.loop !== null);
  const { where, count, grid, fromVelocity, toVelocity, curve } = useBenchState((state) => state.burst);
  const set = (change: Partial<BurstSetting>) => bench.store.wish("burst", change);
  const places: readonly { readonly id: BurstPlace; readonly name: string }[] = [
    { id: "into", name: hasLoop ? "into the end of the loop" : "into the next bar line" },
    { id: "hit", name: "into the selected hit" },
    { id: "loop", name: "from end to end of the loop" },
    { id: "picked", name: "between the selected hits" },
  ];
  return (
    <StripPopover name="Roll" act={burst}>
      <p>
        {where === "into" || where === "hit" ? (
          <WriteNumber
            label="Hits of the roll"
            value={count}
            max={64}
            usual={8}
            onChange={(value) => set({ count: value })}
          />
        ) : (
          "All"
        )}{" "}
        <GridChoice label="Roll grid" value={grid} onChange={(value) => set({ grid: value })} />{" "}
        <OneOf
          label="Where the roll goes"
          chosenId={where}
          choices={places}
          onChoose={(chosen) => set({ where: chosen })}
        />
        , from velocity{" "}
        <WriteNumber
          label="Roll from velocity"
          value={fromVelocity}
          max={127}
          usual={40}
          onChange={(value) => set({ fromVelocity: value })}
        />{" "}
        to{" "}
        <WriteNumber
          label="Roll to velocity"
          value={toVelocity}
          max={127}
          usual={110}
          onChange={(value) => set({ toVelocity: value })}
        />
        ,{" "}
        <OneOf
          label="Curve"
          chosenId={curve}
          choices={CURVES.map((one) => ({ id: one, name: one }))}
          onChoose={(chosen) => set({ curve: chosen })}
        />
        .
      </p>
    </StripPopover>
  );
}

/** Lays what was copied where the playhead is: how, and what that would do, before it is done. */
export function PasteMenu() {
  const bench = useBench();
  const { store } = bench;
  const clip = useStore(clipboard, (state) => state.clip);
  const wish = useBenchState((state) => state.pasteWish);
  const pattern = useBenchState((state) => state.pattern);
  const playheadTick = useBenchState((state) => state.playheadTick);
  const [isOpen, setIsOpen] = useState(false);
  const [plan, setPlan] = useState<PastePlan | null>(null);
  useEffect(() => {
    if (!isOpen) return;
    const next = pastePlan(store.getState(), previewIds());
    setPlan(next);
    if (next) store.preview(next.edit);
    // Before the next plan is made: it is made of what is there without this one.
    return () => store.endPreview();
  }, [store, isOpen, clip, wish, pattern, playheadTick]);
  if (!clip) return null;
  const set = (change: Partial<PasteWish>) => store.wish("pasteWish", change);
  return (
    <StripPopover name="Paste" act={paste} onOpen={setIsOpen}>
      <p>
        {clip.strokes.length === 1 ? "1 hit" : `${clip.strokes.length} hits`}{" "}
        <OneOf
          label="Where to paste"
          chosenId={wish.where}
          choices={PASTE_PLACES}
          onChoose={(where) => set({ where })}
        />
        , <OneOf label="How to paste" chosenId={wish.how} choices={PASTE_WAYS} onChoose={(how) => set({ how })} />,{" "}
        {wish.times !== "end" && (
          <WriteNumber
            label="How often"
            value={wish.times}
            max={64}
            usual={1}
            say={timesWords}
            onChange={(times) => set({ times: Math.round(times) })}
          />
        )}{" "}
        <OneOf
          label="How far"
          chosenId={wish.times === "end" ? "end" : "times"}
          choices={PASTE_REACHES}
          onChoose={(id) => set({ times: id === "end" ? "end" : 1 })}
        />
        .
      </p>
      {plan && (
        <p role="status" className="text-small text-muted">
          {pasteWords(store.getState(), plan)}.
        </p>
      )}
    </StripPopover>
  );
}

const timesWords = (times: number) => (times === 1 ? "once" : `${times} times`);
const PASTE_PLACES = [
  { id: "place", name: "at the playhead" },
  { id: "bar", name: "into the same place of its bar" },
] as const;
const PASTE_WAYS = [
  { id: "beside", name: "beside what is there" },
  { id: "instead", name: "in place of what is there" },
  { id: "insert", name: "in new bars of their own" },
] as const;
const PASTE_REACHES = [
  { id: "times", name: "in a row" },
  { id: "end", name: "to the end of the take" },
] as const;

/** Ids for hits that are only shown. */
function previewIds(): () => string {
  let next = 0;
  return () => `pasted ${next++}`;
}
