import { Button } from "../../components/Button.tsx";
import { SearchField } from "../../components/SearchField.tsx";
import { OneOf } from "../../components/sentence/OneOf.tsx";
import { SentenceChoice } from "../../components/sentence/SentenceChoice.tsx";
import { addVoice } from "../../core/notemap/index.ts";
import { SORTS, type SortId } from "./MapTable.tsx";
import { type MapEditor, tryChange } from "./map-editor.ts";
import { chooseMiddleOctave, MIDDLE_OCTAVES, useMiddleOctave } from "./note-names.ts";

interface MapToolsProps {
  readonly editor: MapEditor;
  readonly search: string;
  readonly onSearch: (search: string) => void;
  readonly sort: SortId;
  readonly onSort: (sort: SortId) => void;
  readonly children?: React.ReactNode;
}

/** Above the table: find a stroke, order the drums, add one. */
export function MapTools({ editor, search, onSearch, sort, onSort, children }: MapToolsProps) {
  const sorts = SORTS.filter(({ id }) => id !== "hits" || editor.usage !== null);
  const octave = useMiddleOctave();
  const add = () => {
    const names = new Set(editor.map.voices.map((voice) => voice.name));
    let name = "New drum";
    for (let turn = 2; names.has(name); turn++) name = `New drum ${turn}`;
    tryChange(editor, "Add a drum", (map) => addVoice(map, name, "percussion").map);
    onSearch(name);
  };
  return (
    <div className="mt-3 mb-1 flex items-center gap-x-4 max-lg:flex-wrap gap-y-1 whitespace-nowrap">
      <SearchField
        label="Find a drum, a stroke or a note"
        placeholder="Find a drum or a note"
        value={search}
        className="w-44 min-w-28"
        onChange={onSearch}
      />
      <span>
        Drums{" "}
        <SentenceChoice
          label="Order"
          chosenId={sort}
          groups={[sorts]}
          onChoose={(id) => onSort(SORTS.find((one) => one.id === id)?.id ?? "map")}
        />
      </span>
      <span>
        Note 60 is{" "}
        <OneOf
          label="Note 60 is"
          chosenId={octave}
          choices={MIDDLE_OCTAVES.map((one) => ({ id: one, name: `C${one}` }))}
          onChoose={chooseMiddleOctave}
        />
      </span>
      {children}
      {editor.change && (
        <Button kind="plain" className="ml-auto text-spruce" onClick={add}>
          Add a drum
        </Button>
      )}
    </div>
  );
}
