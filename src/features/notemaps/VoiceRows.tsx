import { useSortable } from "@dnd-kit/sortable";
import { CSS } from "@dnd-kit/utilities";
import clsx from "clsx";
import { GripVertical, MoreHorizontal } from "lucide-react";
import { DropdownMenu } from "radix-ui";
import { sayTrouble } from "../../components/messages/say.ts";
import { leaveFocus } from "../../components/page/leave-focus.ts";
import { EditableName } from "../../components/sentence/EditableName.tsx";
import { FAMILIES, type NoteMapEntry, strokeName, type Voice } from "../../core/document/index.ts";
import { addStroke, removeVoice, renameStroke, renameVoice, setFamily, setInk } from "../../core/notemap/index.ts";
import { type MapEditor, type StrokeRow, tryChange } from "./map-editor.ts";
import { ComesInAs, GoesOutAs } from "./RouteCells.tsx";
import { WherePicture } from "./WherePicture.tsx";

/** The columns of the table: voice, stroke, comes in as, hits here, goes out as, hear. */
export const COLUMNS = "grid grid-cols-[136px_100px_minmax(134px,1fr)_146px_minmax(96px,0.7fr)_84px] items-center";

interface VoiceRowsProps {
  readonly editor: MapEditor;
  readonly voice: Voice;
  readonly rows: readonly StrokeRow[];
  /** The entry that was struck last. */
  readonly struck: NoteMapEntry | null;
  readonly canMove: boolean;
  readonly onMove: (direction: 1 | -1) => void;
}

/** One drum of a map with its strokes. */
export function VoiceRows({ editor, voice, rows, struck, canMove, onMove }: VoiceRowsProps) {
  const { setNodeRef, attributes, listeners, transform, transition, isDragging } = useSortable({
    id: voice.id,
    disabled: !canMove,
  });
  const isFixed = editor.change === null;
  const rename = (name: string) =>
    tryChange(editor, `Call ${voice.name} ${name}`, (map) => renameVoice(map, voice.id, name));
  return (
    <div
      ref={setNodeRef}
      role="rowgroup"
      aria-label={voice.name}
      className={clsx("relative border-b border-hairline", isDragging && "z-10 bg-sheet shadow-lg")}
      style={{ transform: CSS.Translate.toString(transform), transition, borderLeft: `4px solid var(--${voice.ink})` }}
    >
      {rows.map((row, index) => (
        <StrokeLine
          key={`${row.articulation.id} ${row.entry ? `${row.entry.note} ${row.entry.channel} ${row.entry.pedal?.from}` : ""}`}
          editor={editor}
          voice={voice}
          row={row}
          isStruck={struck !== null && row.entry === struck}
        >
          {index === 0 && (
            <span className="group/voice flex min-w-0 items-center gap-0.5">
              {canMove && (
                <button
                  type="button"
                  {...attributes}
                  {...listeners}
                  aria-label={`Move ${voice.name}; Alt and an arrow key move it as well`}
                  className="-ml-1.5 grid size-6 shrink-0 cursor-grab place-items-center touch-none rounded text-muted opacity-40 group-hover/voice:opacity-100 focus-visible:opacity-100"
                  onKeyDown={(event) => {
                    if (event.altKey && (event.key === "ArrowUp" || event.key === "ArrowDown")) {
                      event.preventDefault();
                      onMove(event.key === "ArrowUp" ? -1 : 1);
                      return;
                    }
                    listeners?.onKeyDown?.(event);
                  }}
                >
                  <GripVertical size={14} />
                </button>
              )}
              <EditableName
                label={voice.name}
                name={voice.name}
                isFixed={isFixed}
                className="font-bold"
                onRename={rename}
              />
              {!isFixed && <VoiceMenu editor={editor} voice={voice} />}
            </span>
          )}
        </StrokeLine>
      ))}
    </div>
  );
}

function VoiceMenu({ editor, voice }: { editor: MapEditor; voice: Voice }) {
  const change = (label: string, next: Parameters<typeof tryChange>[2]) => {
    const why = tryChange(editor, label, next);
    if (why) sayTrouble(why);
  };
  const freeName = (base: string) => {
    for (let turn = 1; ; turn++) {
      const name = turn === 1 ? base : `${base} ${turn}`;
      if (voice.articulations.every((one) => one.name !== name)) return name;
    }
  };
  const itemClass = "rounded-md px-2 py-1 outline-none data-[highlighted]:bg-spruce-tint flex items-center gap-2";
  const contentClass = "z-50 min-w-44 rounded-xl border border-hairline-strong bg-sheet p-1.5 shadow-lg";
  return (
    <DropdownMenu.Root modal={false}>
      <DropdownMenu.Trigger
        aria-label={`More of ${voice.name}`}
        className="ml-auto shrink-0 rounded p-0.5 text-muted opacity-40 group-hover/voice:opacity-100 hover:text-ink focus-visible:opacity-100 data-[state=open]:opacity-100"
      >
        <MoreHorizontal size={15} />
      </DropdownMenu.Trigger>
      <DropdownMenu.Portal>
        <DropdownMenu.Content align="start" onCloseAutoFocus={leaveFocus} className={contentClass}>
          <ChoiceMenu
            name={`Family: ${voice.family}`}
            value={voice.family}
            onChoose={(family) =>
              change(`Put ${voice.name} to the ${family}`, (map) => setFamily(map, voice.id, family))
            }
          />
          <ChoiceMenu
            name="Colour"
            value={voice.ink}
            onChoose={(ink) => change(`Colour ${voice.name}`, (map) => setInk(map, voice.id, ink))}
          />
          <DropdownMenu.Item
            className={itemClass}
            onSelect={() => {
              const name = freeName("another stroke");
              change(`Give ${voice.name} another stroke`, (map) => addStroke(map, voice.id, name).map);
            }}
          >
            Add a stroke
          </DropdownMenu.Item>
          <DropdownMenu.Item
            className={clsx(itemClass, "text-brick")}
            onSelect={() => change(`Remove ${voice.name} from the map`, (map) => removeVoice(map, voice.id))}
          >
            Remove
          </DropdownMenu.Item>
        </DropdownMenu.Content>
      </DropdownMenu.Portal>
    </DropdownMenu.Root>
  );
}

function ChoiceMenu({
  name,
  value,
  onChoose,
}: {
  name: string;
  value: Voice["family"];
  onChoose: (family: Voice["family"]) => void;
}) {
  return (
    <DropdownMenu.Sub>
      <DropdownMenu.SubTrigger className="rounded-md px-2 py-1 outline-none data-[highlighted]:bg-spruce-tint data-[state=open]:bg-spruce-tint">
        {name}
      </DropdownMenu.SubTrigger>
      <DropdownMenu.Portal>
        <DropdownMenu.SubContent className="z-50 min-w-40 rounded-xl border border-hairline-strong bg-sheet p-1.5 shadow-lg">
          <DropdownMenu.RadioGroup value={value} onValueChange={(next) => onChoose(next as Voice["family"])}>
            {FAMILIES.map((family) => (
              <DropdownMenu.RadioItem
                key={family}
                value={family}
                className="flex items-center gap-2 rounded-md px-2 py-1 outline-none data-[highlighted]:bg-spruce-tint data-[state=checked]:font-bold"
              >
                <span className="size-3 rounded-full" style={{ background: `var(--${family})` }} />
                {family}
              </DropdownMenu.RadioItem>
            ))}
          </DropdownMenu.RadioGroup>
        </DropdownMenu.SubContent>
      </DropdownMenu.Portal>
    </DropdownMenu.Sub>
  );
}

interface StrokeLineProps {
  readonly editor: MapEditor;
  readonly voice: Voice;
  readonly row: StrokeRow;
  readonly isStruck: boolean;
  readonly children: React.ReactNode;
}

const LOUDNESSES = [
  { name: "soft", velocity: 35, height: 5 },
  { name: "medium", velocity: 78, height: 9 },
  { name: "loud", velocity: 118, height: 13 },
] as const;

function StrokeLine({ editor, voice, row, isStruck, children }: StrokeLineProps) {
  const { articulation, entry, isFirst } = row;
  const meaning = { voiceId: voice.id, articulationId: articulation.id };
  const name = strokeName(editor.map, meaning);
  const usage = entry ? editor.usage?.byEntry.get(entry) : undefined;
  const rename = (next: string) => tryChange(editor, `Call ${name} ${next}`, (map) => renameStroke(map, meaning, next));
  return (
    <div
      role="row"
      data-struck={isStruck || undefined}
      className={clsx(COLUMNS, "min-h-[34px] px-1.5", isStruck && "bg-amber-tint")}
    >
      <span role="cell" className="min-w-0 pr-2">
        {children}
      </span>
      <span role="cell" className="min-w-0 pr-2">
        {isFirst && (
          <EditableName label={name} name={articulation.name} isFixed={editor.change === null} onRename={rename} />
        )}
      </span>
      <span role="cell">
        <ComesInAs editor={editor} voice={voice} row={row} name={name} />
      </span>
      <span role="cell" className="flex items-center gap-2">
        {usage ? (
          <>
            <WherePicture usage={usage} ink={voice.ink} />
            {usage.hitCount.toLocaleString("en")}
          </>
        ) : (
          editor.usage && entry && <span className="text-small text-muted">never used</span>
        )}
      </span>
      <span role="cell">{isFirst && <GoesOutAs editor={editor} voice={voice} row={row} name={name} />}</span>
      <span role="cell" className="flex gap-1.5">
        {isFirst &&
          LOUDNESSES.map(({ name: loudness, velocity, height }) => (
            <button
              key={loudness}
              type="button"
              aria-label={`Hear ${name}, ${loudness}`}
              title={loudness}
              className="grid h-6 w-6 place-items-end rounded border border-hairline-strong bg-sheet hover:border-edge"
              onClick={() => editor.hear(voice.id, articulation.id, velocity)}
            >
              <svg viewBox="0 0 24 24" className="size-full" aria-hidden="true">
                <path d={`M7 19v${-height}q1.5 ${height * 0.85} 10 ${height}z`} fill={`var(--${voice.ink})`} />
              </svg>
            </button>
          ))}
      </span>
    </div>
  );
}
