import { useRouter } from "next/navigation";
import { memo, useRef, useState } from "react";
import { Button } from "../../../components/Button.tsx";
import { say, sayTrouble } from "../../../components/messages/say.ts";
import { SentenceChoice } from "../../../components/sentence/SentenceChoice.tsx";
import { choicesOf, meaningOfId } from "../../../components/sentence/stroke-choices.ts";
import type { Hit } from "../../../core/document/index.ts";
import { FAMILIES, isUnnamedVoice, type Voice } from "../../../core/document/index.ts";
import type { Part } from "../../../core/file/index.ts";
import { setInk } from "../../../core/notemap/index.ts";
import { useBench, useBenchState } from "../../../store/bench/bench-context.ts";
import { partPath } from "../../../store/server-api.ts";
import { hitCount } from "../commands/actions.ts";
import { doAndSay } from "../commands/do-and-say.ts";
import { changeMap, moveAllHits, moveLane, partToPattern, putAway, takeOutToProject } from "../lanes/lane-actions.ts";

const ALL_STROKES = "all";
const DOUBLE_CLICK_MS = 600;

interface LaneStepProps {
  readonly voice: Voice;
  readonly hits: readonly Hit[];
}

/** The lane itself: its colour, its place, its hits as a whole. */
export const LaneStep = memo(function LaneStep({ voice, hits }: LaneStepProps) {
  const bench = useBench();
  const noteMap = useBenchState((state) => state.pattern.noteMap);
  const projectId = useBenchState((state) => state.project.id);
  const [strokeId, setStrokeId] = useState(ALL_STROKES);
  const router = useRouter();
  const [staysHere, setStaysHere] = useState(true);
  const voiceId = voice.id;
  const isNamed = !isUnnamedVoice(voiceId);
  const part: Part = { voiceId, articulationId: strokeId === ALL_STROKES ? null : strokeId };
  const [isMaking, setIsMaking] = useState(false);
  const isBusy = useRef(false);
  /** Does one thing at a time: a second click while it is done makes no second one. */
  const once = async (make: () => Promise<void>) => {
    if (isBusy.current) return;
    isBusy.current = true;
    setIsMaking(true);
    try {
      await make();
      // A double click ends within this time.
      await new Promise((resolve) => setTimeout(resolve, DOUBLE_CLICK_MS));
    } finally {
      isBusy.current = false;
      setIsMaking(false);
    }
  };
  const takeOut = async () => {
    const made = await takeOutToProject(bench, part, staysHere);
    if (typeof made === "string") {
      sayTrouble(made);
      return;
    }
    say(`“${made.name}” is on the shelf.`, { label: "Open", act: () => router.push(`/bench/${made.id}`) });
  };
  const toPattern = async () => {
    const name = partToPattern(bench, part);
    say(`“${name}” is a pattern of this project.`, {
      label: "Open Song",
      act: () => router.push(`/song/${projectId}`),
    });
  };
  const saveFile = async () => {
    if (!(await bench.store.saved())) return sayTrouble("Your last changes are not saved yet.");
    const link = document.createElement("a");
    link.href = partPath(projectId, part);
    link.download = "";
    link.click();
  };
  return (
    <section aria-label="Lane">
      <h3 className="font-bold">Lane</h3>
      {isNamed && (
        <p className="mt-1 leading-[1.75]">
          Colour{" "}
          <SentenceChoice
            label="Colour"
            chosenId={voice.ink}
            groups={[FAMILIES.map((family) => ({ id: family, name: family }))]}
            onChoose={(ink) =>
              doAndSay(bench, () =>
                changeMap(bench, `Colour ${voice.name}`, (map) =>
                  setInk(map, voiceId, FAMILIES.find((family) => family === ink) ?? voice.ink),
                ),
              )
            }
          />
        </p>
      )}
      {hits.length > 0 && (
        <p className="leading-[1.75]">
          Reassign {hits.length === 1 ? "its hit" : `all ${hitCount(hits.length)}`} to{" "}
          <SentenceChoice
            label="Reassign all hits to"
            chosenId="another drum"
            groups={choicesOf(noteMap).map((group) => group.filter(({ id }) => meaningOfId(id).voiceId !== voiceId))}
            onPreview={(id) => {
              const meaning = meaningOfId(id);
              void bench.playback.audition(meaning.voiceId, meaning.articulationId, 90);
            }}
            onChoose={(id) => doAndSay(bench, () => moveAllHits(bench, hits, meaningOfId(id)))}
          />
          .
        </p>
      )}
      {hits.length > 0 && (
        <>
          <p className="leading-[1.75]">
            Extract{" "}
            <SentenceChoice
              label="What to extract"
              chosenId={strokeId}
              groups={[
                [{ id: ALL_STROKES, name: "this drum" }],
                voice.articulations
                  .filter(({ id }) => hits.some((hit) => hit.articulationId === id))
                  .map(({ id, name }) => ({ id, name })),
              ]}
              onChoose={setStrokeId}
            />
            ,{" "}
            <SentenceChoice
              label="What becomes of it here"
              chosenId={staysHere ? "keep" : "take"}
              groups={[
                [
                  { id: "keep", name: "keep it here" },
                  { id: "take", name: "remove it here" },
                ],
              ]}
              onChoose={(id) => setStaysHere(id === "keep")}
            />
          </p>
          <p className="mt-1 flex flex-wrap gap-1.5">
            <Button
              className="px-2.5 text-small"
              disabled={isMaking || !staysHere}
              title={staysHere ? undefined : "A pattern plays hits of the take: they stay here."}
              onClick={() => void once(toPattern)}
            >
              To a pattern
            </Button>
            <Button className="px-2.5 text-small" disabled={isMaking} onClick={() => void once(takeOut)}>
              {isMaking ? "Extracting …" : "To a project"}
            </Button>
            <Button className="px-2.5 text-small" disabled={isMaking} onClick={() => void once(saveFile)}>
              To a file
            </Button>
          </p>
        </>
      )}
      <p className="mt-2.5 flex gap-4 text-small">
        {isNamed && (
          <>
            <button
              type="button"
              className="underline"
              onClick={() => doAndSay(bench, () => moveLane(bench, voiceId, -1))}
            >
              Move up
            </button>
            <button
              type="button"
              className="underline"
              onClick={() => doAndSay(bench, () => moveLane(bench, voiceId, 1))}
            >
              Move down
            </button>
          </>
        )}
        <button type="button" className="underline" onClick={() => doAndSay(bench, () => putAway(bench))}>
          Hide
        </button>
      </p>
    </section>
  );
});
