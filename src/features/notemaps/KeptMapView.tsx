import { useState } from "react";
import { Button } from "../../components/Button.tsx";
import { say } from "../../components/messages/say.ts";
import { EditableName } from "../../components/sentence/EditableName.tsx";
import { setNoteMap } from "../../core/commands/index.ts";
import type { NoteMap } from "../../core/document/index.ts";
import { renameMap } from "../../core/notemap/index.ts";
import { useBench } from "../../store/bench/bench-context.ts";
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
    store.commit(`Use ${map.name} as input map`, setNoteMap(store.getState().pattern, map));
    say(`${store.getState().project.name} uses the input map ${map.name}.`);
  };
  const sendOut = () => {
    const from = store.getState().pattern.outgoingMap;
    store.commit(`Export for ${map.name}`, { kind: "setOutgoingMap", from, to: map });
    say(`${store.getState().project.name} is exported for ${map.name}.`);
  };
  const saveNames = () => {
    const [first, ...others] = saveAsNames(map);
    if (first) say(`${first}${others.length > 0 ? ` And ${others.length} more.` : ""}`);
  };
  return (
    <>
      <main aria-label="Note map" className="flex min-w-0 flex-1 flex-col pt-4">
        <header className="px-6">
          <h1>
            <EditableName
              label="this map"
              name={map.name}
              className="text-title font-bold"
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
        <h2 className="text-title font-bold">For the open take</h2>
        <Button onClick={use}>Use as input map</Button>
        <Button onClick={sendOut}>Export for this kit</Button>
        <p className="text-small text-muted">Both can be undone in the take.</p>
        <h2 className="mt-3 text-title font-bold">This map</h2>
        <Button onClick={() => onCopy({ ...map, name: `${map.name} copy`.slice(0, 60) })}>Copy</Button>
        <Button onClick={() => saveAsJson(map)}>Export JSON</Button>
        <Button onClick={saveNames}>Export MIDI Names</Button>
        {!isBuiltIn && (
          <Button
            kind="plain"
            className="-ml-3.5 text-brick"
            onClick={() => {
              onGone();
              void kept.remove(map);
            }}
          >
            Delete
          </Button>
        )}
      </aside>
    </>
  );
}
