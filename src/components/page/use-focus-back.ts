import { useEffect, useRef } from "react";

/** Where the focus goes when what it came from is gone: what a screen is worked in by key, or whatever takes it first. */
const home = () =>
  document.querySelector("[data-focus-home]") ??
  document.querySelector("main a, main button, main input, main [tabindex='0']");

/**
 * Brings the focus back to where it was before something opened, so that it never falls to the page itself: whoever works by key goes on
 * where they were.
 * @param isOpen whether what takes the focus is there now
 */
export function useFocusBack(isOpen: boolean): void {
  const from = useRef<Element | null>(null);
  const wasOpen = useRef(false);
  // While it is drawn for the first time, nothing in it has the focus yet.
  if (isOpen && !wasOpen.current) from.current = lasting(document.activeElement);
  wasOpen.current = isOpen;
  useEffect(() => {
    if (!isOpen) return;
    return () => {
      // At once, so that a key pressed right after goes where it is meant to; and again after whatever closes late has let go of the focus.
      setTimeout(() => bringBack(from.current));
      requestAnimationFrame(() => requestAnimationFrame(() => bringBack(from.current)));
    };
  }, [isOpen]);
}

/** A menu goes as soon as something in it is chosen: what stays is the button that opened it. */
function lasting(element: Element | null): Element | null {
  const menu = element?.closest("[role=menu]");
  if (!menu) return element;
  const opener = document.getElementById(menu.getAttribute("aria-labelledby") ?? "");
  return opener && lasting(opener);
}

function bringBack(element: Element | null): void {
  const { activeElement, body } = document;
  if (activeElement && activeElement !== body) return;
  const target = element?.isConnected && element !== body ? element : home();
  if (target instanceof HTMLElement) target.focus({ preventScroll: true });
}
