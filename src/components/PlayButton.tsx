import { Play, Square } from "lucide-react";
import { Hint } from "./Hint.tsx";

interface PlayButtonProps {
  readonly isPlaying: boolean;
  readonly keys: string;
  readonly onToggle: () => void;
}

/** The one round button at the foot of a screen. */
export function PlayButton({ isPlaying, keys, onToggle }: PlayButtonProps) {
  const word = isPlaying ? "Stop" : "Play";
  return (
    <Hint text={word} keys={keys}>
      <button
        type="button"
        aria-label={word}
        className="grid size-10 shrink-0 place-items-center rounded-full bg-spruce text-on-spruce hover:opacity-90"
        onClick={onToggle}
      >
        {isPlaying ? (
          <Square size={15} fill="currentColor" />
        ) : (
          <Play size={17} fill="currentColor" className="ml-0.5" />
        )}
      </button>
    </Hint>
  );
}
