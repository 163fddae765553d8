import { useEffect, useRef } from "react";

/** What is open over the page, the topmost last: each closes itself. */
const open: { readonly close: () => void }[] = [];

/** What a browser tells of a navigation, of which not all have heard. */
interface Navigating extends Event {
  readonly navigationType: string;
}

/**
 * While something is open over the page, the browser's Back closes that and stays where it is. A browser that lets no page hold its Back
 * goes back as ever.
 */
export function useBackCloses(isOpen: boolean, close: () => void): void {
  const latest = useRef(close);
  latest.current = close;
  useEffect(() => {
    if (!isOpen) return;
    const one = { close: () => latest.current() };
    open.push(one);
    if (open.length === 1) navigation()?.addEventListener("navigate", hold);
    return () => {
      open.splice(open.indexOf(one), 1);
      if (open.length === 0) navigation()?.removeEventListener("navigate", hold);
    };
  }, [isOpen]);
}

function hold(event: Event): void {
  if ((event as Navigating).navigationType !== "traverse" || !event.cancelable) return;
  event.preventDefault();
  open.at(-1)?.close();
}

const navigation = (): EventTarget | undefined => (window as { readonly navigation?: EventTarget }).navigation;
