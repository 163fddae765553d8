import type { ReactNode } from "react";
import { PlayButton } from "../../components/PlayButton.tsx";
import { Toggle } from "../../components/Toggle.tsx";
import { useBench, useBenchState } from "../../store/bench/bench-context.ts";

interface PlayBarProps {
  readonly isFollowing: boolean;
  readonly onFollow: (isFollowing: boolean) => void;
  readonly children: ReactNode;
}

/** Play, and whether the list follows; to the right what is picked. */
export function PlayBar({ isFollowing, onFollow, children }: PlayBarProps) {
  const { playback } = useBench();
  const isPlaying = useBenchState((state) => state.isPlaying);
  return (
    <footer className="flex min-h-[60px] shrink-0 flex-wrap items-center gap-x-5 max-lg:sticky max-lg:bottom-0 border-t border-hairline bg-sheet px-[18px]">
      <PlayButton isPlaying={isPlaying} keys="Space" onToggle={() => void playback.toggle()} />
      <span className="flex items-center gap-2 text-small">
        <Toggle label="Follow while it plays" isOn={isFollowing} onChange={onFollow} />
        follow
      </span>
      <div className="ml-auto flex min-w-0 items-center gap-4 text-small">{children}</div>
    </footer>
  );
}
