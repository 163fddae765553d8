import { useCallback, useEffect, useRef, useState } from "react";

/** Something that is done here in steps: how far it is, once it says so, and how it is given up. It is given up with the screen. */
export function useSeeking() {
  const [isRunning, setIsRunning] = useState(false);
  const [share, setShare] = useState<number | null>(null);
  const isWanted = useRef(true);
  const cancel = useCallback(() => {
    isWanted.current = false;
  }, []);
  useEffect(() => cancel, [cancel]);
  /** @param seek tells how far it is, 0 to 1, and is told whether to go on */
  const run = async <Found>(seek: (goesOn: (share: number) => boolean) => Promise<Found>): Promise<Found> => {
    isWanted.current = true;
    setIsRunning(true);
    try {
      return await seek((now) => {
        setShare(now);
        return isWanted.current;
      });
    } finally {
      setIsRunning(false);
      setShare(null);
    }
  };
  return { isRunning, share, run, cancel };
}
