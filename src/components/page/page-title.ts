import { useEffect } from "react";
import { createStore } from "zustand/vanilla";

/** What the page is called, in a tab and by a screen reader: the take, then the screen. */
const title = createStore(() => ({ take: "", screen: "" }));

/** Names a part of the title for as long as whoever names it is there. */
export function usePageTitle(part: "take" | "screen", name: string): void {
  useEffect(() => {
    const write = (words: string) => {
      title.setState({ [part]: words });
      const { take, screen } = title.getState();
      document.title = [take, screen, "Idle Marten"].filter((word) => word !== "").join(" · ");
    };
    write(name);
    return () => write("");
  }, [part, name]);
}
