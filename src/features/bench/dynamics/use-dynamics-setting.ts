import { changeTreatments } from "../../../core/commands/index.ts";
import type { RoleBorders } from "../../../core/document/index.ts";
import { type DynamicsTreatment, type Treatment, USUAL_DYNAMICS } from "../../../core/document/treatment.ts";
import { useBench } from "../../../store/bench/bench-context.ts";
import type { LaneView } from "../../../store/bench/lane-view.ts";

/** Undefined takes what can be left out away. */
export type DynamicsChange = { readonly [Field in keyof DynamicsTreatment]?: DynamicsTreatment[Field] | undefined };

/** What is as usual is left out where it can be, so that it is the same value as if it had never been set. */
function changed(before: DynamicsTreatment, change: DynamicsChange): DynamicsTreatment {
  const { byRole, exceptions, sparedArticulationIds, ...rest } = { ...before, ...change };
  const kept = Object.fromEntries(Object.entries(rest).filter(([, value]) => value !== undefined));
  const shapes = Object.entries(byRole ?? {}).filter(([, shape]) => Object.keys(shape).length > 0);
  return {
    ...USUAL_DYNAMICS,
    ...kept,
    ...(shapes.length > 0 ? { byRole: Object.fromEntries(shapes) } : {}),
    ...(exceptions?.length ? { exceptions } : {}),
    ...(sparedArticulationIds?.length ? { sparedArticulationIds } : {}),
  };
}

/** Open and foot hats carry their own weight: they are spared until a person says otherwise. */
export function firstDynamics({ voice }: Pick<LaneView, "voice">): DynamicsTreatment {
  const spared = voice.articulations.filter(({ mark }) => mark === "open" || mark === "half-open" || mark === "foot");
  if (voice.family !== "hats" || spared.length === 0) return USUAL_DYNAMICS;
  return { ...USUAL_DYNAMICS, sparedArticulationIds: spared.map(({ id }) => id) };
}

/** Shows a change of the dynamics while it is made, and takes it as one step when it is over. A change switches it on. */
export function useDynamicsSetting(lane: LaneView) {
  const { store } = useBench();
  const { voiceId, voice } = lane;
  const editOf = (change: (treatment: Treatment) => Treatment) =>
    changeTreatments(store.getState().pattern, new Set([voiceId]), change);
  const shaped = (change: DynamicsChange) =>
    editOf((treatment) => ({
      ...treatment,
      dynamics: changed(treatment.dynamics ?? firstDynamics(lane), { isOn: true, ...change }),
    }));
  const bordered = (roles: RoleBorders | null) =>
    editOf(({ roles: _, ...treatment }) => (roles ? { ...treatment, roles } : treatment));
  return {
    preview: (change: DynamicsChange) => store.preview(shaped(change)),
    commit: (name: string, change: DynamicsChange) =>
      store.commit(`Change the ${name} of ${voice.name}`, shaped(change)),
    toggle: (isOn: boolean) =>
      store.commit(`Switch the dynamics of ${voice.name} ${isOn ? "on" : "off"}`, shaped({ isOn })),
    previewBorders: (roles: RoleBorders) => store.preview(bordered(roles)),
    /** Null gives the borders back to what is found. */
    setBorders: (roles: RoleBorders | null) => store.commit(`Move the roles of ${voice.name}`, bordered(roles)),
    cancel: () => store.endPreview(),
  };
}

export type DynamicsSetting = ReturnType<typeof useDynamicsSetting>;
