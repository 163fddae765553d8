import { useEffect, useMemo, useRef, useState } from "react";
import { packPattern } from "../../core/document/index.ts";
import { type BarWishes, type BeatWishes, countedAs, type TempoStudy } from "../../core/tempo/index.ts";
import { startAnalysis } from "../../workers/index.ts";
import { useBench } from "../bench/bench-context.ts";

/** The beats of the open take, sought in a worker, and counted as a person wants them. */
export function useTempoStudy() {
  const { store } = useBench();
  const [beatWishes, setBeatWishes] = useState<BeatWishes>({});
  const [barWishes, setBarWishes] = useState<BarWishes>({});
  const [found, setFound] = useState<TempoStudy | null>(null);
  const [isLooking, setIsLooking] = useState(true);
  const helper = useRef<ReturnType<typeof startAnalysis> | null>(null);
  useEffect(() => {
    const started = startAnalysis();
    helper.current = started;
    return () => started.end();
  }, []);
  useEffect(() => {
    let isPassed = false;
    setIsLooking(true);
    void helper.current
      ?.run((analysis) => analysis.tempo(packPattern(store.getState().pattern), beatWishes))
      .then((study) => {
        if (isPassed) return;
        setFound(study);
        setIsLooking(false);
      });
    return () => {
      isPassed = true;
    };
  }, [store, beatWishes]);
  const study = useMemo(() => found && countedAs(found, barWishes), [found, barWishes]);
  return {
    study,
    isLooking,
    stiffness: beatWishes.stiffness,
    /** Other beats are other bars, too: what was said of those no longer holds. */
    seekBeats: (wishes: BeatWishes) => {
      setBeatWishes((before) => ({ ...before, ...wishes }));
      setBarWishes({});
    },
    countAs: (wishes: BarWishes) => setBarWishes((before) => ({ ...before, ...wishes })),
    shiftBeat: (beat: number, byMs: number) =>
      setBarWishes((before) => ({
        ...before,
        shiftsMs: { ...before.shiftsMs, [beat]: (before.shiftsMs?.[beat] ?? 0) + byMs },
      })),
  };
}
