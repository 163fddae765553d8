import { useState } from "react";
import { toast } from "sonner";
import { Button } from "../../components/Button.tsx";
import { EditableName } from "../../components/EditableName.tsx";
import { useNoteMap } from "../../core/commands/index.ts";
import type { NoteMap } from "../../core/document/index.ts";
import { renameMap } from "../../core/notemap/index.ts";
import { useBench } from "../../store/bench-context.ts";
import type { KeptMap } from "../../store/server-api.ts";
import { MapTable, type SortId } from "./MapTable.tsx";
import { MapTools } from "./MapTools.tsx";
import { type MapEditor, tryChange } from "./map-editor.ts";
import { saveAsJson, saveAsNames } from "./save-map.ts";
import type { KeptMaps } from "./use-kept-maps.ts";

interface KeptMapViewProps {
  readonly kept: KeptMaps;
  readonly chosen: KeptMap;
  readonly onCopy: (copy: NoteMap) => void;
  readonly onGone: () => void;
}

/** A map on the shelf. Takes that use it have their own copy, so that a change here changes none of them. */
export function KeptMapView({ kept, chosen, onCopy, onGone }: KeptMapViewProps) {
  const { store, playback } = useBench();
  const { map, isBuiltIn } = chosen;
  const [search, setSearch] = useState("");
  const [sort, setSort] = useState<SortId>("map");
  const editor: MapEditor = {
    map,
    usage: null,
    goesOut: null,
    change: isBuiltIn ? null : (label, next) => kept.change(label, map, next),
    hear: (voiceId, articulationId, velocity) => void playback.audition(voiceId, articulationId, velocity),
  };
  const use = () => {
    store.commit(`Name the notes by ${map.name}`, useNoteMap(store.getState().pattern, map));
    toast(`${store.getState().project.name} is named by ${map.name}.`);
  };
  const sendOut = () => {
    const from = store.getState().pattern.outgoingMap;
    store.commit(`Go out to ${map.name}`, { kind: "setOutgoingMap", from, to: map });
    toast(`${store.getState().project.name} goes out to ${map.name}.`);
  };
  const saveNames = () => {
    const [first, ...others] = saveAsNames(map);
    if (first) toast(`${first}${others.length > 0 ? ` And ${others.length} more.` : ""}`, { duration: 8000 });
  };
  return (
    <>
      <main aria-label="Note map" className="flex min-w-0 flex-1 flex-col pt-4">
        <header className="px-6">
          <h1>
            <EditableName
              label="this map"
              name={map.name}
              className="text-[20px] font-bold"
              isFixed={isBuiltIn}
              onRename={(name) => tryChange(editor, `Call the map ${name}`, (before) => renameMap(before, name))}
            />
          </h1>
          <p className="mt-0.5 text-muted">
            {map.voices.length} drums on {new Set(map.entries.map(({ note }) => note)).size} notes.{" "}
            {isBuiltIn
              ? "It comes with the application. Copy it to change it."
              : "Takes that use it keep the copy they took."}
          </p>
          <MapTools editor={editor} search={search} onSearch={setSearch} sort={sort} onSort={setSort} />
        </header>
        <div className="min-h-0 flex-1 overflow-auto px-6 pb-8">
          <MapTable editor={editor} search={search} sort={sort} showsUnused struck={null} />
        </div>
      </main>
      <aside
        aria-label="What to do with this map"
        className="flex w-[250px] shrink-0 flex-col items-start gap-2 overflow-y-auto border-l border-hairline bg-sheet px-[18px] py-3.5"
      >
        <h2 className="text-[19px] font-bold">For the open take</h2>
        <Button onClick={use}>Name its notes by this</Button>
        <Button onClick={sendOut}>Let it go out to this kit</Button>
        <p className="text-[13px] text-muted">Both can be undone in the take.</p>
        <h2 className="mt-3 text-[19px] font-bold">This map</h2>
        <Button onClick={() => onCopy({ ...map, name: `${map.name} copy`.slice(0, 60) })}>Copy it</Button>
        <Button onClick={() => saveAsJson(map)}>Save as a file</Button>
        <Button onClick={saveNames}>Save as MIDI Names</Button>
        {!isBuiltIn && (
          <Button
            kind="plain"
            className="-ml-3.5 text-brick"
            onClick={() => {
              onGone();
              void kept.remove(map);
            }}
          >
            Take it off the shelf
          </Button>
        )}
      </aside>
    </>
  );
}
