import { useCallback, useEffect, useRef, useState } from "react";
import { type LongTask, ServerProblem, type TaskState, taskState } from "../server-api.ts";

const ASK_EVERY_MS = 400;

/** Something that takes a while on the server: how far it is, and how it is given up. */
export function useLongTask() {
  const [state, setState] = useState<TaskState | null>(null);
  const running = useRef<AbortController | null>(null);
  useEffect(() => () => running.current?.abort(), []);
  const run = useCallback(async <Value>(work: (task: LongTask) => Promise<Value>): Promise<Value | null> => {
    const leaving = new AbortController();
    const ticket = crypto.randomUUID();
    running.current = leaving;
    setState({ kind: "unknown" });
    const timer = setInterval(() => {
      taskState(ticket)
        .then((next) => running.current === leaving && setState(next))
        .catch((error: unknown) => {
          // The work itself will say what is wrong.
          if (!(error instanceof ServerProblem)) throw error;
        });
    }, ASK_EVERY_MS);
    try {
      return await work({ ticket, signal: leaving.signal });
    } catch (error) {
      if (leaving.signal.aborted) return null;
      throw error;
    } finally {
      clearInterval(timer);
      if (running.current === leaving) {
        running.current = null;
        setState(null);
      }
    }
  }, []);
  const cancel = useCallback(() => running.current?.abort(), []);
  return { state, run, cancel };
}
