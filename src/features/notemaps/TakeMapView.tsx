import { Ear } from "lucide-react";
import { useMemo, useState } from "react";
import { Button } from "../../components/Button.tsx";
import { say } from "../../components/messages/say.ts";
import { EditableName } from "../../components/sentence/EditableName.tsx";
import { SentenceChoice } from "../../components/sentence/SentenceChoice.tsx";
import { setNoteMap } from "../../core/commands/index.ts";
import { entryOf, meaningOf, type NoteMap, type NoteMapEntry, strokeName } from "../../core/document/index.ts";
import { GENERAL_MIDI, renameMap } from "../../core/notemap/index.ts";
import { usageOf } from "../../core/overview/index.ts";
import { useBench, useBenchState } from "../../store/bench/bench-context.ts";
import type { LiveStrike } from "../../store/playback/midi-input.ts";
import { ListenStrip } from "./ListenStrip.tsx";
import { MapTable, type SortId } from "./MapTable.tsx";
import { MapTools } from "./MapTools.tsx";
import { type MapEditor, tryChange } from "./map-editor.ts";
import { NamelessPanel } from "./NamelessPanel.tsx";
import type { KeptMaps } from "./use-kept-maps.ts";

const AS_IT_CAME = "as-it-came";
const OWN = "own";

/** The map of the open take: what comes in as what, how often, and what is still without a name. */
export function TakeMapView({ kept }: { kept: KeptMaps }) {
  const { store, playback } = useBench();
  const pattern = useBenchState((state) => state.pattern);
  const projectName = useBenchState((state) => state.project.name);
  const hasDoubts = useBenchState((state) => state.doubts.length > 0);
  const { noteMap: map, outgoingMap } = pattern;
  const usage = useMemo(() => usageOf(pattern), [pattern]);
  const [search, setSearch] = useState("");
  const [sort, setSort] = useState<SortId>("map");
  const [showsUnused, setShowsUnused] = useState(false);
  const [isListening, setIsListening] = useState(false);
  const [strike, setStrike] = useState<LiveStrike | null>(null);

  const editor: MapEditor = {
    map,
    usage,
    goesOut: outgoingMap && {
      map: outgoingMap,
      change: (label, to) => {
        const from = store.getState().pattern.outgoingMap;
        store.commit(label, { kind: "setOutgoingMap", from, to });
      },
    },
    change: (label, next) => store.commit(label, setNoteMap(store.getState().pattern, next)),
    hear: (voiceId, articulationId, velocity) => void playback.audition(voiceId, articulationId, velocity),
  };
  const struck: NoteMapEntry | null = strike ? entryOf(map, strike) : null;
  const onStrike = (one: LiveStrike) => {
    setStrike(one);
    setSearch("");
    const { voiceId, articulationId } = meaningOf(store.getState().pattern.noteMap, one);
    editor.hear(voiceId, articulationId, one.velocity);
    // After the row is drawn, which may be one that never plays in the take.
    requestAnimationFrame(() => document.querySelector("[data-struck]")?.scrollIntoView({ block: "nearest" }));
  };

  const named = [...usage.byEntry.values()].reduce((sum, { hitCount }) => sum + hitCount, 0);
  const unnamed = [...usage.withoutName.values()].reduce((sum, { hitCount }) => sum + hitCount, 0);
  const unusedCount = map.entries.filter((entry) => !usage.byEntry.has(entry)).length;
  const takeNotes = useMemo(
    () => [...new Set(pattern.hits.map(({ note }) => note))].sort((a, b) => a - b),
    [pattern.hits],
  );
  return (
    <>
      <main aria-label="Note map" className="flex min-w-0 flex-1 flex-col pt-4">
        <header className="px-6">
          <h1>
            <EditableName
              label="the map of this take"
              name={map.name}
              className="text-title font-bold"
              onRename={(name) => tryChange(editor, `Call the map ${name}`, (before) => renameMap(before, name))}
            />
          </h1>
          <p className="mt-0.5 text-muted">
            The take <IncomingAndOutgoing kept={kept} map={map} outgoingMap={outgoingMap} />.{" "}
            <KeepOnShelf kept={kept} map={map} projectName={projectName} />
            <br />
            {(named + unnamed).toLocaleString("en")} hits came in: {named.toLocaleString("en")} have a name,{" "}
            {unnamed.toLocaleString("en")} do not.
          </p>
          <MapTools editor={editor} search={search} onSearch={setSearch} sort={sort} onSort={setSort}>
            <label className="flex items-center gap-1.5 text-small whitespace-nowrap">
              <input
                type="checkbox"
                className="accent-(--spruce)"
                checked={showsUnused}
                onChange={(event) => setShowsUnused(event.target.checked)}
              />
              with {unusedCount} never used
            </label>
            <Button
              kind={isListening ? "main" : "outline"}
              aria-pressed={isListening}
              className="px-2.5"
              onClick={() => {
                setIsListening(!isListening);
                setStrike(null);
              }}
            >
              <Ear size={15} /> Listen
            </Button>
          </MapTools>
        </header>
        {isListening && (
          <ListenStrip
            notes={takeNotes}
            hasPedal={pattern.hits.some((hit) => hit.pedal !== null)}
            nameOf={(note) => {
              const entry = map.entries.find((candidate) => candidate.note === note);
              return entry ? strokeName(map, entry) : null;
            }}
            onStrike={onStrike}
            onStop={() => {
              setIsListening(false);
              setStrike(null);
            }}
          />
        )}
        <div className="min-h-0 flex-1 overflow-auto px-6 pb-8">
          <MapTable
            editor={editor}
            search={search}
            sort={sort}
            showsUnused={showsUnused || search !== ""}
            struck={struck}
          />
        </div>
      </main>
      {(unnamed > 0 || hasDoubts || isListening) && (
        <NamelessPanel editor={editor} struckNote={strike && struck === null ? strike.note : null} />
      )}
    </>
  );
}

interface RoutesProps {
  readonly kept: KeptMaps;
  readonly map: NoteMap;
  readonly outgoingMap: NoteMap | null;
}

/** Which map of the shelf names what comes in, and which kit it goes out to. */
function IncomingAndOutgoing({ kept, map, outgoingMap }: RoutesProps) {
  const { store } = useBench();
  const maps = (kept.maps ?? []).map((one) => one.map);
  const choices = maps.map(({ id, name }) => ({ id, name }));
  const isKept = (one: NoteMap) => maps.some((candidate) => JSON.stringify(candidate) === JSON.stringify(one));
  const own = (one: NoteMap) => (isKept(one) ? [] : [{ id: OWN, name: `${one.name}, as changed here` }]);
  const takeIncoming = (id: string) => {
    const next = maps.find((one) => one.id === id);
    if (!next) return;
    store.commit(`Use ${next.name} as input map`, setNoteMap(store.getState().pattern, next));
    say(`Input map: ${next.name}.`);
  };
  const takeOutgoing = (id: string) => {
    const from = store.getState().pattern.outgoingMap;
    const to = maps.find((one) => one.id === id) ?? null;
    if (id === OWN) return;
    store.commit(to ? `Export for ${to.name}` : "Output: original note", { kind: "setOutgoingMap", from, to });
  };
  return (
    <>
      comes in by{" "}
      <SentenceChoice
        label="Comes in by"
        chosenId={isKept(map) ? map.id : OWN}
        groups={[[...own(map), ...choices]]}
        onChoose={takeIncoming}
      />
      , goes out{" "}
      <SentenceChoice
        label="Goes out"
        chosenId={outgoingMap === null ? AS_IT_CAME : isKept(outgoingMap) ? outgoingMap.id : OWN}
        groups={[
          [{ id: AS_IT_CAME, name: "on its original notes" }],
          [...(outgoingMap ? own(outgoingMap) : []), ...choices.map((one) => ({ ...one, name: `to ${one.name}` }))],
        ]}
        onChoose={takeOutgoing}
      />
    </>
  );
}

/** The map of a take is its own; kept on the shelf, other takes can use it. */
function KeepOnShelf({ kept, map, projectName }: { kept: KeptMaps; map: NoteMap; projectName: string }) {
  const same = kept.maps?.find((one) => one.map.id === map.id);
  if (same && JSON.stringify(same.map) === JSON.stringify(map)) return null;
  const name = map.name === GENERAL_MIDI.name ? `${projectName} kit`.slice(0, 60) : map.name;
  const buttonClass = "font-semibold text-spruce underline";
  return (
    <>
      <button
        type="button"
        className={buttonClass}
        onClick={() => void kept.keep({ ...map, name }).then((made) => made && say(`Saved “${name}” to the shelf.`))}
      >
        Keep it on the shelf
      </button>
      {same && !same.isBuiltIn && (
        <>
          {" "}
          <button
            type="button"
            className={buttonClass}
            onClick={() => kept.change(`Bring ${map.name} up to date`, same.map, map)}
          >
            Bring “{same.map.name}” there up to date
          </button>
        </>
      )}
    </>
  );
}
