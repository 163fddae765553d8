import { useRef, useState } from "react";
import { Button } from "../../../components/Button.tsx";
import { FileInput } from "../../../components/FileInput.tsx";
import { Refusal } from "../../../components/messages/Refusal.tsx";
import { say } from "../../../components/messages/say.ts";
import { Sheet } from "../../../components/page/Sheet.tsx";
import { saveText } from "../../../components/save-text.ts";
import { type KitProfile, parseBorders } from "../../../core/dynamics/index.ts";
import { useBench, useBenchState } from "../../../store/bench/bench-context.ts";
import { keepKit, STAND_IN_KIT, writeKitFile } from "../../../store/playback/kit-choice.ts";
import { readKitFile, ServerProblem } from "../../../store/server-api.ts";

/** At which velocities the kit that will play the part changes its sounds. */
export function KitSheet() {
  const { store } = useBench();
  const isOpen = useBenchState((state) => state.sheet === "kit");
  return (
    <Sheet
      title="Layers of the kit"
      lead="The highest velocity of every layer but the last. They are shown behind the loudness of the open lane, and each hit says which one it triggers."
      isOpen={isOpen}
      onOpenChange={(willOpen) => store.showSheet("kit", willOpen)}
    >
      {isOpen && <KitForm onDone={() => store.showSheet("kit", false)} />}
    </Sheet>
  );
}

function KitForm({ onDone }: { onDone: () => void }) {
  const { store } = useBench();
  const kit = useBenchState((state) => state.kit);
  const lanes = useBenchState((state) => state.lanes);
  const [refusal, setRefusal] = useState<string | null>(null);
  const fileInput = useRef<HTMLInputElement>(null);
  const take = (next: KitProfile) => {
    keepKit(next);
    store.chooseKit(next);
  };
  const submit = (form: FormData) => {
    const borders = parseBorders(String(form.get("borders")));
    if (typeof borders === "string") return setRefusal(`All drums: ${borders}`);
    const ofVoices: Record<string, readonly number[]> = {};
    for (const { voiceId, voice } of lanes) {
      const text = String(form.get(`of ${voiceId}`) ?? "").trim();
      if (text === "") continue;
      const own = parseBorders(text);
      if (typeof own === "string") return setRefusal(`${voice.name}: ${own}`);
      ofVoices[voiceId] = own;
    }
    take({
      name: String(form.get("name")).trim() || "My kit",
      borders,
      ofVoices: { ...othersOf(kit, lanes), ...ofVoices },
    });
    onDone();
  };
  const read = async (file: File) => {
    try {
      const next = await readKitFile(file);
      take(next);
      setRefusal(null);
      say(`The layers of ${next.name} are shown now.`);
      onDone();
    } catch (error) {
      if (!(error instanceof ServerProblem)) throw error;
      setRefusal(`${error.problem.message} ${error.problem.remedy}`);
    }
  };
  const inputClass = "rounded-md border border-edge bg-paper px-2 py-0.5 font-bold placeholder:font-normal";
  return (
    <form
      key={kit.name}
      className="grid max-w-md grid-cols-[150px_1fr] items-center gap-x-4 gap-y-1.5"
      onSubmit={(event) => {
        event.preventDefault();
        submit(new FormData(event.currentTarget));
      }}
    >
      <label htmlFor="kit-name">Name</label>
      <input id="kit-name" name="name" defaultValue={kit.name} maxLength={100} className={inputClass} />
      <label htmlFor="kit-borders">All drums</label>
      <input id="kit-borders" name="borders" defaultValue={kit.borders.join(", ")} className={inputClass} />
      {lanes.map(({ voiceId, voice }) => (
        <div key={voiceId} className="contents">
          <label htmlFor={`kit-${voiceId}`}>{voice.name}</label>
          <input
            id={`kit-${voiceId}`}
            name={`of ${voiceId}`}
            defaultValue={kit.ofVoices[voiceId]?.join(", ") ?? ""}
            placeholder="as the others"
            className={inputClass}
          />
        </div>
      ))}
      {refusal && <Refusal className="col-span-2">{refusal}</Refusal>}
      <p className="col-span-2 mt-2 flex flex-wrap items-center gap-3">
        <Button type="submit" kind="main">
          Show these
        </Button>
        <Button onClick={() => saveText(`${kit.name}.json`, "application/json", writeKitFile(kit))}>Export</Button>
        <Button onClick={() => fileInput.current?.click()}>Import</Button>
        <button type="button" className="text-small underline" onClick={() => take(STAND_IN_KIT)}>
          The stand-in kit
        </button>
        <FileInput
          inputRef={fileInput}
          label="File of a kit"
          accept=".json,application/json"
          onFile={(file) => void read(file)}
        />
      </p>
    </form>
  );
}

/** What a kit says of drums that this take does not have. */
function othersOf({ ofVoices }: KitProfile, lanes: readonly { readonly voiceId: string }[]) {
  const here = new Set(lanes.map(({ voiceId }) => voiceId));
  return Object.fromEntries(Object.entries(ofVoices).filter(([voiceId]) => !here.has(voiceId)));
}
