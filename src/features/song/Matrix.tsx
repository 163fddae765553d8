import { useVirtualizer } from "@tanstack/react-virtual";
import clsx from "clsx";
import { line, scaleLinear } from "d3";
import { type KeyboardEvent, type MouseEvent, memo, useEffect, useRef } from "react";
import type { Pattern, Voice } from "../../core/document/index.ts";
import type { Arrangement, FeelProfile, PatternSheet, Sameness, SongPattern } from "../../core/song/index.ts";
import { useBench, useBenchState } from "../../store/bench/bench-context.ts";
import type { SongDesk } from "../../store/playback/use-song.ts";
import { arrangementOf, type CellRange, cellsIn, cellWords, marksOfCell, voicesOf } from "./song-actions.ts";

const ROW_PX = 50;
/** With more voices than this, cells are slim, so that ten voices and eleven patterns are seen at once. */
const MOST_WIDE_VOICES = 7;
const SLIM_ROW_PX = 42;
/** The heads stay in view, over the first rows. */
const HEAD_PX = 62;

interface MatrixProps {
  readonly desk: SongDesk;
  readonly range: CellRange | null;
  readonly onChoose: (range: CellRange) => void;
  readonly onClear: () => void;
}

/** Patterns in rows, voices in columns: each cell shows how the voice sits in the pattern, and is where its feel is set. */
export function Matrix({ desk, range, onChoose, onClear }: MatrixProps) {
  const { playback } = useBench();
  const take = useBenchState((state) => state.shown);
  const arrangement = arrangementOf(take);
  const { patterns } = arrangement;
  const voices = voicesOf(take);
  const voiceIds = voices.map(({ id }) => id);
  const isSlim = voices.length > MOST_WIDE_VOICES;
  const rowPx = isSlim ? SLIM_ROW_PX : ROW_PX;
  const chosen = new Set(
    cellsIn(range, patterns, voiceIds).places.map(({ patternId, voiceId }) => `${patternId} ${voiceId}`),
  );
  const table = useRef<HTMLTableElement>(null);
  // A long show has hundreds of patterns: only the rows in view are made.
  const rows = useVirtualizer({
    count: patterns.length,
    getScrollElement: () => table.current?.parentElement ?? null,
    estimateSize: () => rowPx,
    overscan: 6,
    scrollPaddingStart: HEAD_PX,
  });
  const focusOn = useRef(false);
  const first = patterns[0] && voiceIds[0] ? { patternId: patterns[0].id, voiceId: voiceIds[0] } : null;
  const active = chosen.size > 0 ? range!.to : first;
  useEffect(() => {
    if (!focusOn.current) return;
    focusOn.current = false;
    table.current?.querySelector<HTMLElement>('[data-active="true"]')?.focus();
  });
  if (patterns.length === 0 || !first) return null;
  const last = { patternId: patterns.at(-1)!.id, voiceId: voiceIds.at(-1)! };
  const choose = (next: CellRange) => {
    focusOn.current = true;
    rows.scrollToIndex(patterns.findIndex(({ id }) => id === next.to.patternId));
    onChoose(next);
  };
  const shown = rows.getVirtualItems();
  const above = shown[0]?.start ?? 0;
  const below = rows.getTotalSize() - (shown.at(-1)?.end ?? 0);
  const onKeyDown = (event: KeyboardEvent) => {
    if (!active) return;
    const row = patterns.findIndex(({ id }) => id === active.patternId);
    const column = voiceIds.indexOf(active.voiceId);
    const at = (nextRow: number, nextColumn: number) => ({
      patternId: patterns[Math.max(0, Math.min(patterns.length - 1, nextRow))]!.id,
      voiceId: voiceIds[Math.max(0, Math.min(voiceIds.length - 1, nextColumn))]!,
    });
    const targets: Readonly<Record<string, ReturnType<typeof at>>> = {
      ArrowUp: at(row - 1, column),
      ArrowDown: at(row + 1, column),
      ArrowLeft: at(row, column - 1),
      ArrowRight: at(row, column + 1),
      Home: at(row, 0),
      End: at(row, voiceIds.length - 1),
      PageUp: at(0, column),
      PageDown: at(patterns.length - 1, column),
    };
    const to = targets[event.key];
    if (to) choose({ from: event.shiftKey && range ? range.from : to, to });
    else if (event.key.toLowerCase() === "a" && (event.ctrlKey || event.metaKey)) choose({ from: first, to: last });
    else if (event.key === "Delete" || event.key === "Backspace") onClear();
    // A cell is chosen by going to it, so the space bar plays, as everywhere.
    else if (event.key === " ") void playback.toggle();
    else return;
    event.preventDefault();
    event.stopPropagation();
  };
  const isCurrent = desk.isCurrent(take);
  return (
    <table
      ref={table}
      aria-label="Patterns and voices"
      aria-busy={!isCurrent}
      aria-rowcount={patterns.length + 1}
      className="group border-separate border-spacing-0"
    >
      <thead>
        <tr>
          <th className="sticky top-0 left-0 z-20 w-[218px] bg-paper p-1 text-left align-bottom">
            <button
              type="button"
              tabIndex={-1}
              className="rounded px-1 text-small font-bold text-spruce underline"
              onClick={() => choose({ from: first, to: last })}
            >
              All cells
            </button>
            <p className="px-1 text-fine font-normal text-muted">Difference between patterns: recorded → cleaned</p>
          </th>
          {voices.map((voice, column) => (
            <VoiceHead
              key={voice.id}
              voice={voice}
              sameness={desk.laid?.sameness[column]}
              isSlim={isSlim}
              onChoose={() =>
                choose({
                  from: { patternId: first.patternId, voiceId: voice.id },
                  to: { patternId: last.patternId, voiceId: voice.id },
                })
              }
            />
          ))}
        </tr>
      </thead>
      <tbody>
        {above > 0 && <tr style={{ height: above }} />}
        {shown
          .map(({ index }) => patterns[index]!)
          .map((pattern) => (
            <tr key={pattern.id} aria-rowindex={patterns.indexOf(pattern) + 2} style={{ height: rowPx }}>
              <PatternHead
                pattern={pattern}
                sheet={desk.sheetOf(pattern.id)}
                voices={voices}
                leader={patterns.find(({ id }) => id === pattern.followsId)?.name}
                onChoose={(event) => {
                  const row = { patternId: pattern.id, voiceId: first.voiceId };
                  choose({
                    from: event.shiftKey && range ? { ...range.from, voiceId: first.voiceId } : row,
                    to: { ...row, voiceId: last.voiceId },
                  });
                }}
              />
              {take.lanes.map((lane, column) => {
                const key = `${pattern.id} ${lane.voiceId}`;
                const place = { patternId: pattern.id, voiceId: lane.voiceId };
                return (
                  <MatrixCell
                    key={lane.voiceId}
                    arrangement={arrangement}
                    pattern={pattern}
                    lane={lane}
                    voice={voices[column]!}
                    profile={desk.sheetOf(pattern.id)?.cells[column]?.profile}
                    isSlim={isSlim}
                    isChosen={chosen.has(key)}
                    isActive={active?.patternId === pattern.id && active.voiceId === lane.voiceId}
                    onChoose={(event) => choose({ from: event.shiftKey && range ? range.from : place, to: place })}
                    onKeyDown={onKeyDown}
                  />
                );
              })}
            </tr>
          ))}
        {below > 0 && <tr style={{ height: below }} />}
      </tbody>
    </table>
  );
}

interface VoiceHeadProps {
  readonly voice: Voice;
  readonly sameness: Sameness | undefined;
  readonly isSlim: boolean;
  readonly onChoose: () => void;
}

function VoiceHead({ voice, sameness, isSlim, onChoose }: VoiceHeadProps) {
  const { recorded, cleaned } = sameness ?? { recorded: null, cleaned: null };
  const isKnown = recorded && cleaned;
  return (
    <th scope="col" className="sticky top-0 z-10 bg-paper p-1 text-left align-bottom font-normal">
      <button
        type="button"
        tabIndex={-1}
        className="block w-full rounded text-left hover:bg-spruce-tint"
        onClick={onChoose}
      >
        <strong
          className={clsx("block leading-tight", isSlim ? "w-[58px] text-fine break-words" : "max-w-[84px]")}
          style={{ color: `var(--${voice.ink})` }}
        >
          {voice.name}
        </strong>
        {/* Figures that are out of date for long enough to be read stand back. */}
        <span className="block text-fine leading-tight whitespace-nowrap text-muted transition-opacity delay-200 group-aria-busy:opacity-40">
          {isKnown ? (
            <>
              <span className="sr-only">Apart, recorded then cleaned: </span>
              <span className={clsx(isSlim && "sr-only")}>{recorded.ms.toFixed(1)} → </span>
              <b className="text-ink">{cleaned.ms.toFixed(1)} ms</b>
              <br />
              <span className={clsx(isSlim && "sr-only")}>{recorded.dB.toFixed(1)} → </span>
              <b className="text-ink">{cleaned.dB.toFixed(1)} dB</b>
            </>
          ) : (
            "in one only"
          )}
        </span>
      </button>
    </th>
  );
}

interface PatternHeadProps {
  readonly pattern: SongPattern;
  readonly sheet: PatternSheet | undefined;
  readonly voices: readonly Voice[];
  readonly leader: string | undefined;
  readonly onChoose: (event: MouseEvent) => void;
}

function PatternHead({ pattern, sheet, voices, leader, onChoose }: PatternHeadProps) {
  return (
    <th scope="row" className="sticky left-0 z-10 bg-paper p-0.5 text-left font-normal">
      <button
        type="button"
        tabIndex={-1}
        style={{ borderColor: `var(--${pattern.colour})` }}
        className="flex w-[214px] items-center gap-2 rounded-md border-l-[5px] bg-sheet py-0.5 pr-1 pl-2 text-left hover:bg-spruce-tint"
        onClick={onChoose}
      >
        <span className="min-w-0 flex-1 leading-tight">
          <strong className="block truncate">{pattern.name}</strong>
          <span className="block truncate text-fine text-muted">
            {pattern.bars.length} {pattern.bars.length === 1 ? "bar" : "bars"}
            {leader ? `, as ${leader}` : ""}
          </span>
        </span>
        <Picture sheet={sheet} voices={voices} />
      </button>
    </th>
  );
}

const PICTURE = { width: 76, height: 31 } as const;

/** A pattern as a small picture: a row for each voice, from the top of the staff to its foot. */
function Picture({ sheet, voices }: { sheet: PatternSheet | undefined; voices: readonly Voice[] }) {
  const rowHeight = PICTURE.height / Math.max(1, voices.length);
  return (
    <svg viewBox={`0 0 ${PICTURE.width} ${PICTURE.height}`} className="w-[76px] shrink-0" aria-hidden="true">
      {sheet?.cells.map(({ voiceId, picture }, row) => (
        <path
          key={voiceId}
          stroke={`var(--${voices[row]?.ink ?? "percussion"})`}
          strokeWidth={1}
          d={marksPath(picture, (row + 1) * rowHeight, rowHeight)}
        />
      ))}
    </svg>
  );
}

function marksPath(picture: Float32Array, bottom: number, rowHeight: number): string {
  let path = "";
  for (let at = 0; at < picture.length; at += 2) {
    const x = (Math.max(0, picture[at]!) * PICTURE.width).toFixed(1);
    path += `M${x} ${bottom.toFixed(1)}v${(-Math.max(0.6, picture[at + 1]! * rowHeight)).toFixed(1)}`;
  }
  return path;
}

interface MatrixCellProps {
  readonly arrangement: Arrangement;
  readonly pattern: SongPattern;
  readonly lane: Pattern["lanes"][number];
  readonly voice: Voice;
  readonly profile: FeelProfile | undefined;
  readonly isSlim: boolean;
  readonly isChosen: boolean;
  readonly isActive: boolean;
  readonly onChoose: (event: MouseEvent) => void;
  readonly onKeyDown: (event: KeyboardEvent) => void;
}

function MatrixCell(props: MatrixCellProps) {
  const ppq = useBenchState((state) => state.pattern.ppq);
  const { arrangement, pattern, lane, voice, profile, isSlim, isChosen, isActive, onChoose, onKeyDown } = props;
  const { groove, isOwn, pushMs } = marksOfCell(arrangement, pattern, lane.voiceId);
  const isEmpty = profile !== undefined && profile.quarters.length === 0;
  const label = `${voice.name} in ${pattern.name}: ${isEmpty ? "not played" : cellWords(arrangement, pattern, lane, ppq)}`;
  return (
    <td className="p-0.5">
      <button
        type="button"
        tabIndex={isActive ? 0 : -1}
        data-active={isActive}
        aria-pressed={isChosen}
        title={label}
        onKeyDown={onKeyDown}
        className={clsx(
          "block rounded-md border px-1 text-left",
          isSlim ? "h-[38px] w-[62px]" : "h-[46px] w-[88px]",
          isChosen
            ? "border-spruce bg-spruce-tint outline-1 outline-spruce"
            : "border-hairline bg-sheet hover:border-edge",
        )}
        onClick={onChoose}
      >
        {profile && !isEmpty && <Profile profile={profile} ink={`var(--${voice.ink})`} />}
        <span className="sr-only">{label}</span>
        <span
          aria-hidden="true"
          className={clsx(
            "block min-h-3 truncate text-fine leading-none whitespace-nowrap",
            isOwn ? "font-bold text-amber-text" : "text-muted",
          )}
        >
          {isEmpty ? "–" : cellMark(groove, isOwn, pushMs)}
        </span>
      </button>
    </td>
  );
}

function cellMark(groove: string | null, isOwn: boolean, pushMs: number): string {
  const push = pushMs === 0 ? "" : `${pushMs > 0 ? "+" : "−"}${Math.abs(pushMs)} ms`;
  const words = [push, groove].filter(Boolean).join(" ");
  // What is as the take has it is not said.
  return words || (isOwn ? "its own" : "");
}

const WIDEST_MS = 28;
const CELL = { width: 78, height: 26 } as const;

/** How a voice sits in the bars of a pattern: recorded as a faint line, cleaned in its ink; late above the line. */
const Profile = memo(function Profile({ profile, ink }: { profile: FeelProfile; ink: string }) {
  const { quarters, recordedMs, cleanedMs } = profile;
  const x = scaleLinear([0, Math.max(4, ...quarters)], [2, CELL.width - 2]);
  const y = scaleLinear([-WIDEST_MS, WIDEST_MS], [CELL.height - 2, 2]).clamp(true);
  const curve = line<number>()
    .x((_, at) => x(quarters[at]!))
    .y((ms) => y(ms));
  return (
    <svg
      viewBox={`0 0 ${CELL.width} ${CELL.height}`}
      className="h-[24px] w-full"
      preserveAspectRatio="none"
      aria-hidden="true"
    >
      <line x1={0} x2={CELL.width} y1={y(0)} y2={y(0)} stroke="var(--hairline-strong)" strokeWidth={0.8} />
      <path d={curve(recordedMs) ?? ""} fill="none" stroke="var(--muted)" strokeWidth={0.9} strokeDasharray="2 1.5" />
      <path d={curve(cleanedMs) ?? ""} fill="none" stroke={ink} strokeWidth={1.5} />
      {quarters.map((quarter, at) => (
        <circle key={quarter} cx={x(quarter)} cy={y(cleanedMs[at]!)} r={1.5} fill={ink} />
      ))}
    </svg>
  );
});
