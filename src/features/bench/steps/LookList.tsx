import clsx from "clsx";
import { Button } from "../../../components/Button.tsx";
import { Hint } from "../../../components/Hint.tsx";
import { gridName } from "../../../core/time/index.ts";
import { useBench, useBenchState } from "../../../store/bench/bench-context.ts";
import type { LaneView } from "../../../store/bench/lane-view.ts";
import { useKeyNames } from "../commands/command-keys.ts";
import { doAndSay } from "../commands/do-and-say.ts";
import {
  acceptLook,
  goToLook,
  goToNextLook,
  hearAround,
  type Look,
  leaveAsRecorded,
  leavePickedOut,
  looksOf,
  otherReading,
  placeOfLook,
  readOtherwise,
  reasonsOfLook,
  repairLane,
  takeOtherSlot,
} from "./worth-a-look.ts";

/** So many are listed at once; the rest come up as these are dealt with. */
const MOST_LISTED = 40;

/** The hits of a lane that are worth a look: why, and what can be done about each. */
export function LookList({ lane }: { lane: LaneView }) {
  const bench = useBench();
  const looks = useBenchState((state) => looksOf(state, lane));
  const picked = useBenchState((state) => state.picked);
  if (looks.length === 0) return null;
  const faults = looks.filter(({ fault }) => fault !== null).length;
  return (
    <section aria-label="Doubtful hits" className="mt-2 rounded-lg bg-amber-tint px-3 py-1">
      <p className="flex items-center justify-between">
        <strong className="text-small">
          {looks.length} doubtful {looks.length === 1 ? "hit" : "hits"}
        </strong>
        <span className="flex gap-3 text-small">
          <button
            type="button"
            className="font-bold text-spruce underline"
            onClick={() => doAndSay(bench, () => goToNextLook(bench))}
          >
            Next
          </button>
          <button
            type="button"
            className="font-bold text-spruce underline"
            onClick={() => bench.store.setReviewing(false)}
          >
            Done
          </button>
        </span>
      </p>
      {faults > 0 && (
        <p className="mt-1 text-small">
          {faults} of them{" "}
          {faults === 1 ? "is likely a double trigger or crosstalk" : "are likely double triggers or crosstalk"}.{" "}
          {faults > 1 && (
            <button
              type="button"
              className="font-bold text-spruce underline"
              onClick={() => doAndSay(bench, () => repairLane(bench, lane))}
            >
              Mute all {faults}
            </button>
          )}
        </p>
      )}
      <ul className="mt-1.5 max-h-[230px] overflow-y-auto">
        {looks.slice(0, MOST_LISTED).map((look) => (
          <LookRow
            key={look.hitId}
            lane={lane}
            look={look}
            place={placeOfLook(lane, look)}
            reasons={reasonsOfLook(lane, look).join(" ")}
            isPicked={picked.size === 1 && picked.has(look.hitId)}
            onGo={() => goToLook(bench, lane, look)}
          />
        ))}
      </ul>
    </section>
  );
}

interface RowProps {
  readonly lane: LaneView;
  readonly look: Look;
  readonly place: string;
  readonly reasons: string;
  readonly isPicked: boolean;
  readonly onGo: () => void;
}

function LookRow({ lane, look, place, reasons, isPicked, onGo }: RowProps) {
  const bench = useBench();
  const reading = isPicked ? otherReading(lane, look) : null;
  const keyName = useKeyNames();
  const choices = [
    { id: "hearAround", name: "Listen", run: hearAround },
    { id: "acceptLook", name: "Keep", run: acceptLook },
    ...(look.fault
      ? [{ id: "leaveOut", name: "Mute", run: leavePickedOut }]
      : [
          { id: "otherSlot", name: "Other slot", run: takeOtherSlot },
          { id: "leave", name: "As recorded", run: leaveAsRecorded },
        ]),
  ];
  return (
    <li className={clsx("border-t border-hairline-strong py-1 text-small", isPicked && "bg-sheet")}>
      <button type="button" className="w-full text-left" aria-current={isPicked} onClick={onGo}>
        <strong>{place}</strong> {reasons}
      </button>
      {isPicked && (
        <span className="mt-1 flex flex-wrap gap-1.5">
          {choices.map(({ id, name, run }) => (
            <Hint key={id} text={name} keys={keyName(id)}>
              <Button
                className="px-2 text-fine"
                onClick={() => {
                  doAndSay(bench, () => run(bench));
                }}
              >
                {name}
              </Button>
            </Hint>
          ))}
          {reading && (
            <Button
              className="px-2 text-fine"
              onClick={() => doAndSay(bench, () => readOtherwise(bench, lane, reading))}
            >
              Use {gridName(reading.grid)} here
            </Button>
          )}
        </span>
      )}
    </li>
  );
}
