import { SentenceChoice } from "../../../components/sentence/SentenceChoice.tsx";
import { choicesOf, meaningOfId } from "../../../components/sentence/stroke-choices.ts";
import { revoiceHits } from "../../../core/commands/index.ts";
import { findVoice } from "../../../core/document/index.ts";
import { useBench, useBenchState } from "../../../store/bench/bench-context.ts";
import { pickedHits } from "../../../store/bench/bench-selectors.ts";
import { useSettled } from "../../../store/bench/use-settled.ts";
import { hitCount } from "../commands/actions.ts";

/** Says what the picked hits are played on, and moves them to another drum or stroke. Pointing at one sounds it. */
export function RevoiceChoice() {
  const { store, playback } = useBench();
  const noteMap = useBenchState((state) => state.pattern.noteMap);
  const isRevoicing = useBenchState((state) => state.sheet === "revoice");
  const chosenId = useSettled(
    (state) => {
      const ids = new Set(pickedHits(state).map(({ hit }) => `${hit.voiceId}/${hit.articulationId}`));
      const [id] = ids;
      return ids.size === 1 && id ? id : "several drums";
    },
    ({ picked, pattern }) => [picked, pattern],
  );
  const revoice = (id: string) => {
    const meaning = meaningOfId(id);
    const hits = pickedHits(store.getState()).map(({ hit }) => hit);
    const { name } = findVoice(noteMap, meaning.voiceId);
    store.commit(`Move ${hitCount(hits.length)} to ${name}`, revoiceHits(store.getState().pattern, hits, meaning));
  };
  return (
    <span>
      on{" "}
      <SentenceChoice
        label="Played on"
        chosenId={chosenId}
        groups={choicesOf(noteMap, meaningOfId(chosenId).voiceId)}
        onPreview={(id) => {
          const { voiceId, articulationId } = meaningOfId(id);
          void playback.audition(voiceId, articulationId, 90);
        }}
        onChoose={revoice}
        isOpen={isRevoicing}
        onOpenChange={(isOpen) => store.showSheet("revoice", isOpen)}
      />
    </span>
  );
}
