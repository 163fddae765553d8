import fc from "fast-check";
import { describe, expect, it } from "vitest";
import { CHORES } from "../../../core/chore/index.ts";
import { GROOVES } from "../../../core/groove/index.ts";
import { RECIPES } from "../../../core/recipe.ts";
import { ranked } from "../../page/rank.ts";
import { COMMANDS } from "../commands/commands.ts";
import { openABench } from "../testing/a-bench.ts";
import { searchEntries } from "./entries.ts";
import { KIN } from "./kin.ts";
import { typedSetting } from "./setting-entries.ts";

const shelf = { chores: CHORES, recipes: RECIPES, grooves: GROOVES };
const went: string[] = [];
const entriesOf = (state: ReturnType<ReturnType<typeof openABench>["store"]["getState"]>) =>
  searchEntries(state, shelf, (screen) => went.push(screen));

/** What people might type, and what they mean; the first of the ids, or any of them where a phrase can mean several. */
const PHRASES: readonly (readonly [phrase: string, ...ids: string[]])[] = [
  ["quantize", "timing", "quantizeSelection", "tightenAll"],
  ["quantise", "timing", "quantizeSelection", "tightenAll"],
  ["quantizing", "timing", "quantizeSelection", "tightenAll"],
  ["quantize all", "tightenAll"],
  ["quantize everything", "tightenAll"],
  ["quantize selection", "quantizeSelection"],
  ["quantize selected notes", "quantizeSelection"],
  ["snap", "timing", "quantizeSelection"],
  ["snap to grid", "timing", "showTiming"],
  ["tighten", "tightenAll", "timing", "showTiming"],
  ["grid", "setting grid"],
  ["auto correct", "tightenAll", "timing", "quantizeSelection"],
  ["strength", "setting strengthPercent"],
  ["quantize strength", "setting strengthPercent"],
  ["amount", "setting strengthPercent"],
  ["swing", "setting swingPercent"],
  ["shuffle", "setting swingPercent"],
  ["more swing", "setting swingPercent"],
  ["triplet swing", "setting swingPercent"],
  ["velocity", "louder", "softer", "showDynamics", "likeLoudness", "setting loudnessPercent"],
  ["volume", "louder", "softer", "setting loudnessPercent", "likeLoudness"],
  ["louder", "louder"],
  ["loud", "louder"],
  ["softer", "softer"],
  ["soft", "softer"],
  ["quieter", "softer"],
  ["turn up", "louder"],
  ["increase velocity", "louder"],
  ["decrease velocity", "softer"],
  ["humanize", "setting humanizeMs", "humanizeSelection"],
  ["humanise", "setting humanizeMs", "humanizeSelection"],
  ["randomize", "setting humanizeMs", "humanizeSelection", "setting deviation"],
  ["random", "setting humanizeMs", "humanizeSelection", "setting deviation"],
  ["random velocity", "setting deviation"],
  ["humanize velocity", "setting deviation"],
  ["groove", "showFeel", "screen grooves"],
  ["feel", "showFeel"],
  ["groove template", "showFeel", "screen grooves"],
  ["groove library", "screen grooves"],
  ["ghost", "asGhosts", "showDynamics"],
  ["ghost notes", "asGhosts", "showDynamics"],
  ["accent", "asAccents", "louder", "showDynamics"],
  ["flam", "burst", "split"],
  ["drum roll", "burst"],
  ["roll", "burst"],
  ["buzz roll", "burst"],
  ["ratchet", "burst"],
  ["select", "all", "selectAll", "likeStrokes", "sift", "inLoop", "likePlaces"],
  ["select all", "selectAll", "all"],
  ["select everything", "selectAll"],
  ["select none", "none"],
  ["deselect", "none"],
  ["clear selection", "none"],
  ["invert selection", "others"],
  ["select similar", "likeStrokes", "likeLoudness"],
  ["select by rule", "sift"],
  ["filter", "sift"],
  ["every nth", "sift", "fill"],
  ["every second hat", "chore second-hats-softer", "chore second-hats-late"],
  ["conditional select", "sift"],
  ["find", "sift"],
  ["delete", "remove"],
  ["erase", "remove"],
  ["remove", "remove"],
  ["duplicate", "repeat"],
  ["repeat", "repeat"],
  ["clone", "repeat"],
  ["copy", "copy"],
  ["paste", "paste"],
  ["cut", "cut"],
  ["move", "earlier", "later", "stepBack", "stepOn", "revoice", "moveLaneUp", "moveLaneDown"],
  ["move left", "earlier", "tickEarlier", "stepBack"],
  ["move right", "later", "tickLater", "stepOn"],
  ["nudge", "earlier", "later"],
  ["nudge earlier", "earlier", "tickEarlier"],
  ["transpose", "revoice"],
  ["change drum", "revoice"],
  ["change note", "revoice"],
  ["reassign", "revoice"],
  ["note map", "screen maps"],
  ["drum map", "screen maps"],
  ["midi in", "screen maps"],
  ["midi input", "screen maps"],
  ["midi learn", "screen maps"],
  ["general midi", "screen maps"],
  ["tempo", "tempo"],
  ["bpm", "tempo"],
  ["meter", "tempo"],
  ["time signature", "tempo"],
  ["tempo map", "tempo"],
  ["tap tempo", "tempo"],
  ["loop", "loop"],
  ["cycle", "loop"],
  ["loop selection", "loop", "hearAround", "showLoop"],
  ["click", "click"],
  ["metronome", "click"],
  ["mute", "mute", "muteHits"],
  ["mute notes", "muteHits", "mute"],
  ["mute selected", "muteHits"],
  ["mute lane", "mute"],
  ["solo", "solo"],
  ["solo lane", "solo"],
  ["isolate", "solo", "front"],
  ["undo", "undo"],
  ["redo", "redo"],
  ["history", "versions"],
  ["undo history", "versions"],
  ["save version", "versions"],
  ["snapshot", "versions", "turnSide"],
  ["backup", "versions"],
  ["preset", "recipe tight-studio", "recipe same-drummer", "recipe only-strays"],
  ["recipe", "recipe tight-studio", "recipe same-drummer", "recipe only-strays"],
  ["macro", "sift", "chore second-hats-softer"],
  ["chore", "sift"],
  ["batch", "chore second-hats-softer", "chore second-hats-late", "chore back-beat-up"],
  ["save", "export", "versions"],
  ["export", "export"],
  ["export midi", "export"],
  ["render", "export", "bakeIn"],
  ["bounce", "export"],
  ["freeze", "bakeIn", "bakeInStretch", "pin"],
  ["commit", "bakeIn", "bakeInStretch", "bakeInAll"],
  ["bake", "bakeIn", "bakeInStretch", "bakeInAll"],
  ["zoom", "nearer", "farther", "fit"],
  ["zoom in", "nearer"],
  ["zoom out", "farther"],
  ["zoom to fit", "fit"],
  ["fit", "fit"],
  ["show all", "fit"],
  ["zoom to selection", "showPicked"],
  ["zoom to loop", "showLoop"],
  ["zoom back", "showBefore"],
  ["play", "play"],
  ["stop", "play"],
  ["start playback", "play"],
  ["play from here", "playHere"],
  ["rewind", "start"],
  ["go to start", "start"],
  ["next bar", "barOn"],
  ["previous bar", "barBack"],
  ["next marker", "markerOn"],
  ["event list", "screen messages"],
  ["messages", "screen messages"],
  ["midi events", "screen messages"],
  ["arrangement", "screen song"],
  ["song", "screen song"],
  ["verse chorus", "screen song"],
  ["home", "screen ", "start"],
  ["library", "screen ", "screen grooves"],
  ["import", "screen ", "tracks"],
  ["shortcuts", "keys"],
  ["keyboard shortcuts", "keys"],
  ["help", "keys"],
  ["draw", "draw"],
  ["pencil", "draw"],
  ["add note", "draw"],
  ["fill", "fill"],
  ["double time", "double"],
  ["half time", "half"],
  ["merge", "glue"],
  ["join", "glue"],
  ["split", "split"],
  ["double trigger", "showRepair", "leaveOut"],
  ["crosstalk", "showRepair", "leaveOut"],
  ["repair", "showRepair", "leaveOut"],
  ["errors", "worth"],
  ["doubtful", "worth"],
  ["review", "worth"],
  ["latency", "setting latencyMs"],
  ["delay", "setting pushMs", "setting latencyMs"],
  ["push", "setting pushMs", "earlier"],
  ["lay back", "setting pushMs", "later"],
  ["laid back", "setting pushMs", "showFeel"],
  ["ahead of the beat", "setting pushMs", "earlier"],
  ["compress", "setting rangePercent", "level"],
  ["dynamics", "showDynamics", "setting rangePercent"],
  ["range", "setting rangePercent", "setting reachPercent"],
  ["limiter", "setting highestVelocity"],
  ["max velocity", "setting highestVelocity"],
  ["original", "hearRecorded", "flip", "flipVoice"],
  ["before after", "flip"],
  ["bypass", "flip", "hearRecorded", "flipVoice"],
  ["compare", "turnSide", "flip"],
  ["a/b", "turnSide", "flip"],
  ["lock", "pin", "front"],
  ["pin", "pin"],
  ["hide lane", "putAway"],
  ["reorder lanes", "moveLaneUp", "moveLaneDown"],
  ["tracks", "tracks"],
  ["velocity layers", "kit"],
  ["insert bars", "insertBars"],
  ["empty bar", "insertBars"],
  ["remove bars", "removeBars"],
  ["duplicate bars", "duplicateBars"],
  ["loop as file", "barsToFile"],
  ["note length", "setting lengths"],
  ["gate", "setting lengths"],
];

describe("the search", () => {
  it("has at least 150 phrases to be right about", () => {
    expect(new Set(PHRASES.map(([phrase]) => phrase)).size).toBeGreaterThanOrEqual(150);
  });

  it.each([...PHRASES])("finds “%s” among the first three", (phrase, ...ids) => {
    const state = openABench().store.getState();
    const found = ranked(entriesOf(state), phrase).slice(0, 3);
    expect(found.map(({ id }) => id)).toEqual(expect.arrayContaining([expect.toBeOneOf(ids)]));
  });

  it("puts what works on the selection first when there is one", () => {
    const { store } = openABench();
    const first = () => ranked(entriesOf(store.getState()), "mute")[0]!.id;
    expect(first()).toBe("mute");
    store.pick(new Set([store.getState().pattern.hits[0]!.id]));
    expect(first()).toBe("muteHits");
  });

  it("finds nothing for nonsense, and never fails", () => {
    const entries = entriesOf(openABench().store.getState());
    expect(ranked(entries, "xyzzy plugh")).toEqual([]);
    fc.assert(
      fc.property(fc.string(), (query) => {
        const found = ranked(entries, query);
        expect(new Set(found.map(({ id }) => id)).size).toBe(found.length);
        typedSetting(query, openABench().store.getState());
      }),
      { numRuns: 50 },
    );
  });

  it("knows other words for each command that it names", () => {
    const ids = new Set(entriesOf(openABench().store.getState()).map(({ id }) => id));
    expect(Object.keys(KIN).filter((id) => !ids.has(id))).toEqual([]);
    expect(COMMANDS.filter(({ id }) => !KIN[id]).map(({ id }) => id)).toEqual([]);
  });
});

describe("a setting that is typed with its value", () => {
  it("is done to the open lane, and refused in words beyond its limits", () => {
    const bench = openABench();
    const lane = () =>
      bench.store.getState().lanes.find(({ voiceId }) => voiceId === bench.store.getState().openVoiceId)!;
    const run = (query: string) => typedSetting(query, bench.store.getState())!.run(bench);
    expect(run("swing 58")).toBeUndefined();
    expect(lane().treatment.timing.grid.swingPercent).toBe(58);
    run("strength 65 %");
    expect(lane().treatment.timing).toMatchObject({ isOn: true, strengthPercent: 65 });
    run("range 130");
    expect(lane().treatment.dynamics).toMatchObject({ isOn: true, rangePercent: 130 });
    expect(run("swing 90")).toBe("Swing goes from 50 to 75 %. Nothing was changed.");
    run("1/16");
    expect(lane().treatment.timing.grid).toEqual({ family: "straight", denominator: 16 });
    expect(typedSetting("strange 12", bench.store.getState())).toBeNull();
  });

  it("starts no pull where only a push was asked for", () => {
    const bench = openABench();
    typedSetting("push -6", bench.store.getState())!.run(bench);
    const { lanes, openVoiceId } = bench.store.getState();
    const { timing } = lanes.find(({ voiceId }) => voiceId === openVoiceId)!.treatment;
    expect(timing).toMatchObject({ isOn: true, strengthPercent: 0, pushMs: -6 });
  });

  it("is the velocity of what is selected, set or changed by", () => {
    const bench = openABench();
    const [first] = bench.store.getState().pattern.hits;
    bench.store.pick(new Set([first!.id]));
    const velocity = () => bench.store.getState().pattern.hits[0]!.pinnedVelocity;
    typedSetting("velocity 100", bench.store.getState())!.run(bench);
    expect(velocity()).toBe(100);
    typedSetting("velocity -10", bench.store.getState())!.run(bench);
    expect(velocity()).toBe(90);
  });
});
