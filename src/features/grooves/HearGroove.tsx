import { Play, Square } from "lucide-react";
import { useEffect, useRef, useState } from "react";
import { sayTrouble } from "../../components/messages/say.ts";
import { OneOf } from "../../components/sentence/OneOf.tsx";
import type { Groove } from "../../core/document/index.ts";
import { GroovePlayer, type GrooveStage } from "../../store/playback/groove-player.ts";
import { ServerProblem } from "../../store/server-api.ts";

const PLAIN = { id: "plain", name: "a plain part" } as const;
const TAKE = { id: "take", name: "the open take" } as const;

interface HearGrooveProps {
  readonly projectId: string | undefined;
  readonly groove: Groove;
  readonly bpm: number;
}

/** Plays the groove that is shown, on a plain part or on the open take; while it plays, what is changed is heard at once. */
export function HearGroove({ projectId, groove, bpm }: HearGrooveProps) {
  const player = useRef<GroovePlayer | null>(null);
  const [isPlaying, setIsPlaying] = useState(false);
  const [stage, setStage] = useState<GrooveStage>("plain");
  useEffect(() => () => player.current?.end(), []);
  useEffect(() => {
    if (player.current) void layOrSay(player.current, groove, bpm, stage);
  }, [groove, bpm, stage]);
  const toggle = async () => {
    player.current ??= new GroovePlayer(projectId, groove, bpm, setIsPlaying);
    if (await layOrSay(player.current, groove, bpm, stage)) await player.current.toggle();
  };
  return (
    <p className="mb-2 flex items-center gap-2.5">
      <button
        type="button"
        aria-label={isPlaying ? "Stop" : "Listen"}
        className="grid size-8 shrink-0 place-items-center rounded-full bg-spruce text-on-spruce hover:opacity-90"
        onClick={() => void toggle()}
      >
        {isPlaying ? (
          <Square size={12} fill="currentColor" />
        ) : (
          <Play size={14} fill="currentColor" className="ml-0.5" />
        )}
      </button>
      <span>
        Listen on{" "}
        <OneOf label="Heard on" chosenId={stage} choices={projectId ? [PLAIN, TAKE] : [PLAIN]} onChoose={setStage} />,
        over and over.
      </span>
    </p>
  );
}

async function layOrSay(player: GroovePlayer, groove: Groove, bpm: number, stage: GrooveStage): Promise<boolean> {
  try {
    await player.lay(groove, bpm, stage);
    return true;
  } catch (error) {
    if (!(error instanceof ServerProblem)) throw error;
    sayTrouble(error.problem);
    return false;
  }
}
