import { Ellipsis } from "lucide-react";
import { Popover } from "radix-ui";
import { EditableName } from "../../../components/sentence/EditableName.tsx";
import { isUnnamedVoice, ROLES, roleWord } from "../../../core/document/index.ts";
import { renameVoice } from "../../../core/notemap/index.ts";
import { useBench, useBenchState } from "../../../store/bench/bench-context.ts";
import type { LaneView } from "../../../store/bench/lane-view.ts";
import { doAndSay } from "../commands/do-and-say.ts";
import { changeMap } from "../lanes/lane-actions.ts";
import { LaneStep } from "../steps/LaneStep.tsx";
import { NotesStep } from "../steps/NotesStep.tsx";
import { goToNextLook, looksOf } from "../steps/worth-a-look.ts";
import { LengthStep } from "./LengthStep.tsx";

/** Which voice it is, the roles it plays, what is doubtful in it, and the menu for matters of the lane. */
export function CardHead({ lane }: { lane: LaneView }) {
  const bench = useBench();
  const { voice, voiceId } = lane;
  return (
    <header>
      <div className="flex items-center justify-between gap-2">
        <h2 className="min-w-0">
          <EditableName
            label={voice.name}
            name={voice.name}
            isFixed={isUnnamedVoice(voiceId)}
            className="text-title font-bold"
            onRename={(name) =>
              changeMap(bench, `Rename ${voice.name} to ${name}`, (map) => renameVoice(map, voiceId, name))
            }
          />
          <span className="sr-only">
            {" "}
            {lane.hits.length.toLocaleString("en")} {lane.hits.length === 1 ? "hit" : "hits"}
          </span>
        </h2>
        <Popover.Root>
          <Popover.Trigger
            aria-label="Lane menu"
            className="rounded-md p-1 text-muted hover:bg-spruce-tint hover:text-ink data-[state=open]:bg-spruce-tint"
          >
            <Ellipsis size={18} />
          </Popover.Trigger>
          <Popover.Portal>
            <Popover.Content
              align="end"
              sideOffset={4}
              collisionPadding={10}
              aria-label={`Lane of ${voice.name}`}
              className="z-50 max-h-[min(76vh,var(--radix-popover-content-available-height))] w-[310px] overflow-y-auto rounded-xl border border-hairline-strong bg-sheet p-4 shadow-lg"
            >
              <LaneStep voice={voice} hits={lane.hits} />
              <NotesStep hits={lane.hits} />
              <LengthStep lane={lane} />
            </Popover.Content>
          </Popover.Portal>
        </Popover.Root>
      </div>
      <RoleBar lane={lane} />
      <Doubtful lane={lane} />
    </header>
  );
}

function RoleBar({ lane }: { lane: LaneView }) {
  const counts = ROLES.map((_, place) => lane.roles.reduce((sum, role) => sum + (role === place ? 1 : 0), 0));
  const total = lane.hits.length;
  const ink = `var(--${lane.voice.ink})`;
  const words = counts.flatMap((count, place) =>
    count === 0 ? [] : [`${count.toLocaleString("en")} ${roleWord(ROLES[place]!, count)}`],
  );
  return (
    <>
      {total > 0 && (
        <div className="mt-1.5 flex h-2 gap-[3px]" aria-hidden="true">
          {counts.map((count, place) =>
            count === 0 ? null : (
              <span
                key={ROLES[place]}
                className="rounded-sm border"
                style={{
                  flexGrow: count,
                  minWidth: 4,
                  borderColor: ink,
                  background: place === 0 ? "transparent" : ink,
                  borderTopWidth: place === 2 ? 3 : 1,
                }}
              />
            ),
          )}
        </div>
      )}
      <p className="mt-1 text-small text-muted">
        {total.toLocaleString("en")} {total === 1 ? "hit" : "hits"}
        {words.length > 1 ? `: ${words.join(", ")}` : ""}
      </p>
    </>
  );
}

function Doubtful({ lane }: { lane: LaneView }) {
  const bench = useBench();
  const count = useBenchState((state) => looksOf(state, lane).length);
  const isListed = useBenchState((state) => state.isReviewing);
  const isKnown = useBenchState(({ summaries }) => summaries.has(lane.voiceId));
  if (isListed || lane.hits.length === 0) return null;
  // There before it is known, and where there are none: a line that comes or goes would move the tabs from under a finger.
  if (count === 0) {
    return (
      <p className="mt-2 px-3 py-1 text-small text-muted">
        {isKnown ? "No doubtful hits" : "Looking for doubtful hits …"}
      </p>
    );
  }
  const review = () => {
    bench.store.setReviewing(true);
    doAndSay(bench, () => goToNextLook(bench));
  };
  return (
    <p className="mt-2 flex items-center justify-between rounded-lg bg-amber-tint px-3 py-1">
      <strong className="text-small">
        {count} doubtful {count === 1 ? "hit" : "hits"}
      </strong>
      <button type="button" className="text-small font-bold text-spruce underline" onClick={review}>
        Review
      </button>
    </p>
  );
}
