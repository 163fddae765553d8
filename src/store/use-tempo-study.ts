import { useCallback, useEffect, useRef, useState } from "react";
import type { TempoStudy, TempoWishes } from "../core/tempo/index.ts";
import { startAnalysis } from "../workers/index.ts";
import { useBench } from "./bench-context.ts";

/** The beats of the open take, sought in a worker, and again whenever something else is wished for. */
export function useTempoStudy() {
  const { store } = useBench();
  const [wishes, setWishes] = useState<TempoWishes>({});
  const [study, setStudy] = useState<TempoStudy | null>(null);
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
      ?.run((analysis) => analysis.tempo(store.getState().pattern, wishes))
      .then((found) => {
        if (isPassed) return;
        setStudy(found);
        setIsLooking(false);
      });
    return () => {
      isPassed = true;
    };
  }, [store, wishes]);
  const wish = useCallback((more: TempoWishes) => setWishes((before) => ({ ...before, ...more })), []);
  return { study, wishes, wish, isLooking };
}
