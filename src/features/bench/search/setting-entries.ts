import { changeTiming, changeTreatments, withTiming } from "../../../core/commands/index.ts";
import { DYNAMICS_LIMITS, type StepId, TIMING_LIMITS, USUAL_DYNAMICS } from "../../../core/document/index.ts";
import { type Limit, sayLimited } from "../../../core/limit.ts";
import { GRID_CHOICES, gridName, withSwing } from "../../../core/time/index.ts";
import type { BenchState } from "../../../store/bench/bench-state.ts";
import type { BenchStore } from "../../../store/bench/bench-store.ts";
import { workingLane } from "../commands/actions.ts";
import { applyAct } from "../selection/selection-actions.ts";
import type { SearchEntry } from "./entries.ts";

// Settings of the open lane in the search: to go to, or typed with a value.

/** The settings of the open lane that are found by name: where they are is shown. */
const SETTINGS: readonly {
  readonly id: string;
  readonly limit: Limit;
  readonly step: "timing" | "dynamics";
  readonly part: string | null;
  readonly kin: string;
}[] = [
  {
    id: "strengthPercent",
    limit: TIMING_LIMITS.strengthPercent,
    step: "timing",
    part: null,
    kin: "amount percent quantize how much tight pull partly",
  },
  {
    id: "swingPercent",
    limit: TIMING_LIMITS.swingPercent,
    step: "timing",
    part: null,
    kin: "shuffle triplet feel swung sixteenth swing eighth groove",
  },
  {
    id: "leaveWithinMs",
    limit: TIMING_LIMITS.leaveWithinMs,
    step: "timing",
    part: null,
    kin: "tolerance leave alone untouched window threshold sensitivity close",
  },
  {
    id: "reachPercent",
    limit: TIMING_LIMITS.reachPercent,
    step: "timing",
    part: "quantize",
    kin: "range window catch radius farther limit",
  },
  {
    id: "pocketMs",
    limit: TIMING_LIMITS.pocketMs,
    step: "timing",
    part: "quantize",
    kin: "habit offset allow late early drummer feel",
  },
  {
    id: "latencyMs",
    limit: TIMING_LIMITS.latencyMs,
    step: "timing",
    part: "quantize",
    kin: "delay compensation offset late whole take lag module",
  },
  {
    id: "pushMs",
    limit: TIMING_LIMITS.pushMs,
    step: "timing",
    part: "quantize",
    kin: "ahead behind beat lay back delay offset track delay drag rush shift feel",
  },
  {
    id: "humanizeMs",
    limit: TIMING_LIMITS.humanizeMs,
    step: "timing",
    part: "quantize",
    kin: "random randomize randomise chance loose jitter natural human timing",
  },
  {
    id: "rangePercent",
    limit: DYNAMICS_LIMITS.rangePercent,
    step: "dynamics",
    part: null,
    kin: "compress compressor expand dynamic dynamics velocity flatten contrast",
  },
  {
    id: "loudnessPercent",
    limit: DYNAMICS_LIMITS.loudnessPercent,
    step: "dynamics",
    part: null,
    kin: "volume velocity loudness gain scale loud soft louder softer lane",
  },
  {
    id: "deviation",
    limit: DYNAMICS_LIMITS.deviation,
    step: "dynamics",
    part: "dynamics",
    kin: "random randomize randomise chance velocity human jitter",
  },
  {
    id: "lowestVelocity",
    limit: DYNAMICS_LIMITS.lowestVelocity,
    step: "dynamics",
    part: "dynamics",
    kin: "floor limit lowest velocity minimum softest",
  },
  {
    id: "highestVelocity",
    limit: DYNAMICS_LIMITS.highestVelocity,
    step: "dynamics",
    part: "dynamics",
    kin: "ceiling limit highest velocity maximum loudest limiter clip",
  },
];

/** The card of the open lane, at a step. */
function openCard(store: BenchStore, step: StepId): void {
  store.openStep(step);
  store.closeSift();
}

export function settingEntries(state: BenchState): readonly SearchEntry[] {
  const lane = workingLane(state);
  const grid: SearchEntry = {
    id: "setting grid",
    name: "Grid",
    kin: "resolution subdivision note value sixteenths eighths quarters triplets snap",
    place: lane ? `${lane.voice.name}, Quantize` : "lane card",
    fits: 0.9,
    run: ({ store }) => openCard(store, "timing"),
  };
  const others = SETTINGS.map(
    ({ id, limit, step, part, kin }): SearchEntry => ({
      id: `setting ${id}`,
      name: limit.label,
      kin: `${kin} setting`,
      place: lane ? `${lane.voice.name}, ${step === "timing" ? "Quantize" : "Dynamics"}` : "lane card",
      fits: 0.9,
      run: ({ store }) => {
        if (!workingLane(store.getState())) return "Open a lane first.";
        openCard(store, step);
        if (part) store.openPart(part, true);
        focusSoon(limit.label);
      },
    }),
  );
  return [grid, ...others];
}

/** The control of a setting is there after the next frame. */
function focusSoon(label: string): void {
  setTimeout(() => {
    const card = document.querySelector('[aria-label="Lane card"]');
    const thumb = card?.querySelector<HTMLElement>(`[role="slider"][aria-label="${label}"]`);
    thumb?.scrollIntoView({ block: "nearest" });
    thumb?.focus();
  }, 60);
}

const TYPED = /^(.*?)\s*([+\-−]?\d+(?:[.,]\d+)?)\s*(%|ms|ticks)?$/u;

/**
 * A setting with its value: `swing 58`, `velocity 100`, `quantize 1/16`.
 * @returns what it would do, or null if it is none
 */
export function typedSetting(query: string, state: BenchState): SearchEntry | null {
  const lane = workingLane(state);
  const grid = GRID_CHOICES.find(({ family, denominator }) =>
    new RegExp(
      `^(grid|quanti[sz]e)?\\s*(to\\s+)?1/${denominator}\\s*${family === "straight" ? "" : family[0]}(riplet|otted|uintuplet)?s?$`,
      "i",
    ).test(query.trim()),
  );
  if (grid && lane) {
    return {
      id: "typed grid",
      name: `Quantize ${lane.voice.name} to ${gridName(grid)}`,
      kin: "",
      place: "Quantize",
      run: ({ store }) => {
        store.commit(
          `Change the grid of ${lane.voice.name}`,
          changeTiming(store.getState().pattern, new Set([lane.voiceId]), (timing) => withTiming(timing, { grid })),
        );
      },
    };
  }
  const match = TYPED.exec(query.trim());
  const words = match?.[1]?.trim().toLowerCase() ?? "";
  if (!match || words === "") return null;
  const value = Number(match[2]!.replace(",", ".").replace("−", "-"));
  if (state.picked.size > 0 && /^(vel|velocity|volume|loudness|set velocity)/.test(words)) {
    const isBy = /^[+\-−]/.test(match[2]!);
    const name = isBy ? `Velocity of the selection ${match[2]}` : `Set the velocity of the selection to ${value}`;
    return {
      id: "typed velocity",
      name,
      kin: "",
      place: "Selection",
      run: (bench) =>
        Math.abs(value) > 127 || (!isBy && value < 1)
          ? "A velocity is 1 to 127. Nothing was changed."
          : applyAct(
              bench,
              isBy ? { kind: "add", velocity: Math.round(value) } : { kind: "set", velocity: Math.round(value) },
            ),
    };
  }
  const setting =
    SETTINGS.find(({ limit }) => limit.label.toLowerCase().startsWith(words)) ??
    SETTINGS.find(({ kin }) => kin.split(" ").includes(words));
  if (!setting || !lane) return null;
  const { limit, step, id } = setting;
  return {
    id: `typed ${id}`,
    name: `Set ${limit.label.toLowerCase()} of ${lane.voice.name} to ${sayLimited(limit, value)}`,
    kin: "",
    place: step === "timing" ? "Quantize" : "Dynamics",
    run: ({ store }) => {
      if (!(value >= limit.min && value <= limit.max)) {
        return `${limit.label} goes from ${limit.min} to ${limit.max}${limit.unit ? ` ${limit.unit}` : ""}. Nothing was changed.`;
      }
      const only = new Set([lane.voiceId]);
      const { pattern } = store.getState();
      const edit =
        id === "swingPercent"
          ? changeTiming(pattern, only, (timing) => withTiming(timing, { grid: withSwing(timing.grid, value) }))
          : step === "timing"
            ? changeTiming(pattern, only, (timing) => withTiming(timing, { [id]: value }))
            : changeTreatments(pattern, only, (treatment) => ({
                ...treatment,
                dynamics: { ...USUAL_DYNAMICS, ...treatment.dynamics, isOn: true, [id]: Math.round(value) },
              }));
      store.openStep(step);
      store.commit(`Set ${limit.label.toLowerCase()} of ${lane.voice.name} to ${sayLimited(limit, value)}`, edit);
    },
  };
}
