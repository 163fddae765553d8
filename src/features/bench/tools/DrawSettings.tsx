import { OneOf } from "../../../components/sentence/OneOf.tsx";
import { SentenceChoice } from "../../../components/sentence/SentenceChoice.tsx";
import { SentenceNumber } from "../../../components/sentence/SentenceNumber.tsx";
import { Toggle } from "../../../components/Toggle.tsx";
import { ADDED_NOTE_QUARTERS } from "../../../core/file/index.ts";
import { formatGrid, gridName, handGridAt, parseGrid } from "../../../core/time/index.ts";
import { useBench, useBenchState } from "../../../store/bench/bench-context.ts";
import type { LaneView } from "../../../store/bench/lane-view.ts";
import { LENGTH_NAMES } from "../card/LengthStep.tsx";
import { workingLane } from "../commands/actions.ts";
import { strokeOfLane } from "../commands/write-actions.ts";
import { GRID_GROUPS } from "../steps/grid-groups.ts";
import { chooseDrawGrid, chooseStroke, setDrawing } from "./tool-actions.ts";
import { FillMenu, RollMenu } from "./WriteMenus.tsx";

const USUAL = "usual";

/** What a press of the pointer would write, and what writes many hits at once. */
export function DrawSettings() {
  const { store } = useBench();
  const drawing = useBenchState((state) => state.drawing);
  return (
    <section
      aria-label="Drawing"
      className="flex min-w-0 flex-1 items-center gap-2.5 overflow-x-auto text-small whitespace-nowrap"
    >
      <OfLane />
      <span className="flex shrink-0 items-center gap-1.5">
        Snap
        <Toggle label="Snap" isOn={drawing.isSnapped} onChange={(isSnapped) => setDrawing(store, { isSnapped })} />
      </span>
      <span className="flex shrink-0 items-center gap-1.5">
        Cells
        <Toggle
          label="Step cells"
          isOn={drawing.showsCells}
          onChange={(showsCells) => setDrawing(store, { showsCells })}
        />
      </span>
    </section>
  );
}

/** What is drawn in the lane that is worked on; in others it follows what they play. */
function OfLane() {
  const { store } = useBench();
  const drawing = useBenchState((state) => state.drawing);
  const lane = useBenchState(workingLane);
  const picked = useBenchState((state) => state.picked);
  const chosenGrid = useBenchState((state) => (lane ? (state.drawGrids.get(lane.voiceId) ?? null) : null));
  const usual = lane ? strokeOfLane(lane, picked) : null;
  const velocity = (
    <span>
      Velocity{" "}
      <SentenceNumber
        label="Velocity of drawn hits"
        value={drawing.velocity ?? usual?.velocity ?? USUAL_VELOCITY}
        usual={usual?.velocity ?? USUAL_VELOCITY}
        unit=""
        min={1}
        max={127}
        step={1}
        say={(value) => (drawing.velocity === null ? `${value}, as last` : String(value))}
        onCommit={(value) => setDrawing(store, { velocity: Math.round(value) })}
      />
    </span>
  );
  if (!lane) {
    return (
      <>
        {velocity}
        <span className="text-muted">Open a lane to choose its grid and stroke.</span>
      </>
    );
  }
  const { voiceId, voice } = lane;
  const laneGrid = handGridAt(lane.treatment.timing, 0);
  return (
    <>
      <span>
        Grid{" "}
        <SentenceChoice
          label="Draw grid"
          chosenId={chosenGrid ? formatGrid(chosenGrid) : USUAL}
          groups={[[{ id: USUAL, name: `${gridName(laneGrid)}, as quantize` }], ...GRID_GROUPS]}
          onChoose={(id) => chooseDrawGrid(store, voiceId, id === USUAL ? null : parseGrid(id))}
        />
      </span>
      {velocity}
      {voice.articulations.length > 1 && (
        <span>
          Stroke{" "}
          <OneOf
            label="Stroke to draw"
            chosenId={drawing.strokes.get(voiceId) ?? usual?.articulationId ?? ""}
            choices={voice.articulations}
            onChoose={(id) => chooseStroke(store, voiceId, id)}
          />
        </span>
      )}
      <OfNote lane={lane} />
      <FillMenu />
      <RollMenu />
    </>
  );
}

const LENGTHS_IN_QUARTERS = [1 / 8, 1 / 4, 1 / 2, 1, 2, 4];
const LENGTHS = LENGTHS_IN_QUARTERS.map((quarters) => ({ id: String(quarters), name: `1/${4 / quarters}` }));

/** How long the notes of drawn hits last, for samplers that listen to it. A lane that says how long its notes last says it of these too. */
function OfNote({ lane }: { lane: LaneView }) {
  const { store } = useBench();
  const lengthQuarters = useBenchState((state) => state.drawing.lengthQuarters);
  const { lengths } = lane.treatment;
  return (
    <span>
      Length{" "}
      {lengths && lengths.mode !== "scaled" ? (
        <span title="As the menu of the lane says under Note lengths">{LENGTH_NAMES[lengths.mode]}</span>
      ) : (
        <OneOf
          label="Length of drawn notes"
          chosenId={String(lengthQuarters ?? ADDED_NOTE_QUARTERS)}
          choices={LENGTHS}
          onChoose={(id) =>
            setDrawing(store, { lengthQuarters: Number(id) === ADDED_NOTE_QUARTERS ? null : Number(id) })
          }
        />
      )}
    </span>
  );
}

const USUAL_VELOCITY = 90;
