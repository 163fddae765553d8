import clsx from "clsx";
import { FileUp, Plus } from "lucide-react";
import { useRef, useState } from "react";
import { SearchField } from "../../components/SearchField.tsx";
import type { KeptMap } from "../../store/server-api.ts";

interface MapsListProps {
  readonly maps: readonly KeptMap[];
  /** The name of the open take; null if there is none. */
  readonly takeName: string | null;
  /** Null for the map of the take. */
  readonly chosenId: string | null;
  readonly onChoose: (id: string | null) => void;
  readonly onNew: () => void;
  readonly onFile: (file: File) => void;
}

/** The maps that there are: that of the open take, and those on the shelf. */
export function MapsList({ maps, takeName, chosenId, onChoose, onNew, onFile }: MapsListProps) {
  const [search, setSearch] = useState("");
  const file = useRef<HTMLInputElement>(null);
  const words = search.trim().toLowerCase();
  const found = maps.filter(({ map }) => map.name.toLowerCase().includes(words));
  const entry = (id: string | null, name: string, note: string) => (
    <button
      key={id}
      type="button"
      aria-current={id === chosenId ? "true" : undefined}
      className={clsx(
        "w-full border-l-[3px] px-4 py-1.5 text-left leading-snug",
        id === chosenId ? "border-amber bg-sheet" : "border-transparent hover:bg-spruce-tint",
      )}
      onClick={() => onChoose(id)}
    >
      <span className={clsx("block truncate", id === chosenId && "font-bold")}>{name}</span>
      <span className="text-fine text-muted">{note}</span>
    </button>
  );
  return (
    <nav
      aria-label="Maps"
      className="flex w-[186px] shrink-0 flex-col overflow-y-auto border-r border-hairline pt-3 pb-4 max-lg:w-auto max-lg:border-r-0 max-lg:border-b"
    >
      {takeName !== null && (
        <>
          <h2 className="px-4 pb-1 text-small text-muted">The open take</h2>
          {entry(null, takeName, "its own map")}
        </>
      )}
      <h2 className="px-4 pt-4 pb-1 text-small text-muted">On the shelf</h2>
      {maps.length > 4 && <SearchField label="Search maps" value={search} className="mx-4 mb-1" onChange={setSearch} />}
      {found.map(({ map, isBuiltIn }) =>
        entry(
          map.id,
          map.name,
          `${map.entries.length} ${map.entries.length === 1 ? "note" : "notes"}${isBuiltIn ? ", built in" : ""}`,
        ),
      )}
      {found.length === 0 && <p className="px-4 text-small text-muted">Nothing found.</p>}
      <div className="mt-4 flex flex-col items-start gap-1.5 px-4">
        <button type="button" className="flex items-center gap-1.5 font-semibold text-spruce" onClick={onNew}>
          <Plus size={15} /> New map
        </button>
        <button
          type="button"
          className="flex items-center gap-1.5 font-semibold text-spruce"
          onClick={() => file.current?.click()}
        >
          <FileUp size={15} /> From a file
        </button>
        <input
          ref={file}
          type="file"
          aria-label="A file with a note map"
          accept=".midnam,.xml,.json"
          className="sr-only"
          tabIndex={-1}
          onChange={(event) => {
            const [chosen] = event.target.files ?? [];
            event.target.value = "";
            if (chosen) onFile(chosen);
          }}
        />
      </div>
    </nav>
  );
}
