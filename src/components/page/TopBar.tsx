"use client";

import clsx from "clsx";
import { Moon, Sun } from "lucide-react";
import { type ReactNode, useEffect, useState } from "react";
import { createPortal } from "react-dom";
import { Hint } from "../Hint.tsx";
import { useTheme } from "./Frame.tsx";
import { PageLink } from "./PageLink.tsx";
import { usePageTitle } from "./page-title.ts";

/** In the order of the work. */
const SCREENS = [
  { name: "Shelf", path: null },
  { name: "Bench", path: "/bench" },
  { name: "Note maps", path: "/maps" },
  { name: "Grooves", path: "/grooves" },
  { name: "Patterns", path: "/patterns" },
  { name: "Song", path: "/song" },
  { name: "Messages", path: "/messages" },
] as const;

export type Screen = (typeof SCREENS)[number]["name"];

interface TopBarProps {
  readonly here: Screen;
  /** The project that is open: the other screens open it, too. */
  readonly projectId?: string;
  readonly children?: ReactNode;
}

/** The name, the screens in words, and to the right whatever the screen puts there. */
export function TopBar({ here, projectId, children }: TopBarProps) {
  const { theme, setTheme } = useTheme();
  usePageTitle("screen", here);
  return (
    <>
      <button
        type="button"
        className="sr-only z-50 rounded-md bg-spruce px-3 py-1 font-semibold text-paper focus-visible:not-sr-only focus-visible:absolute focus-visible:top-1 focus-visible:left-1"
        onClick={goToContent}
      >
        Go to the content
      </button>
      <header className="flex min-h-[46px] shrink-0 flex-wrap short:min-h-8 items-center gap-x-6 px-5 max-lg:px-3">
        <PageLink href="/" className="flex items-center gap-3 text-lead font-bold">
          <svg viewBox="0 0 24 16" className="w-[22px] fill-amber" aria-hidden="true">
            <path d="M1 1c2 8 8 12 22 14H1z" />
          </svg>
          Idle Marten
        </PageLink>
        <nav
          aria-label="Screens"
          className="flex h-[46px] items-stretch gap-1 max-w-full overflow-x-auto max-lg:h-9 short:h-8 max-sm:h-auto max-sm:flex-wrap"
        >
          {SCREENS.map(({ name, path }) => (
            <PageLink
              key={name}
              href={path === null ? "/" : projectId ? `${path}/${projectId}` : path}
              aria-current={name === here ? "page" : undefined}
              className={clsx(
                "flex items-center border-b-[3px] px-2.5 pt-[3px] whitespace-nowrap",
                name === here
                  ? "border-amber font-bold"
                  : "border-transparent forced-colors:border-[Canvas] text-muted hover:text-ink",
              )}
            >
              {name}
            </PageLink>
          ))}
        </nav>
        {/* A long name gives way before anything goes to a second row. */}
        <div className="ml-auto flex min-w-0 flex-1 basis-[440px] items-center justify-end gap-4 max-lg:basis-auto max-lg:flex-wrap max-lg:gap-x-2 max-lg:gap-y-0">
          {children}
          <Hint text={theme === "day" ? "Work by night" : "Work by day"}>
            <button
              type="button"
              aria-label={theme === "day" ? "Switch to night" : "Switch to day"}
              className="rounded-md p-1.5 text-muted hover:text-ink"
              onClick={() => setTheme(theme === "day" ? "night" : "day")}
            >
              {theme === "day" ? <Moon size={17} /> : <Sun size={17} />}
            </button>
          </Hint>
        </div>
      </header>
      <div id={NOTICE_ID} className="shrink-0" />
    </>
  );
}

/** Past the names of the screens: to the grid of the lanes, or whatever the screen is about. */
function goToContent(): void {
  const find = (selector: string) => document.querySelector<HTMLElement>(selector);
  const content = find("main [role=grid]") ?? find("[data-focus-home]") ?? find("main");
  if (!content) return;
  if (content.tabIndex < 0) content.tabIndex = -1;
  content.focus();
}

const NOTICE_ID = "page-notice";

/** Something that the whole page has to say: under the top bar, where it makes room for itself and covers nothing. */
export function PageNotice({ children }: { children: ReactNode }) {
  const [place, setPlace] = useState<HTMLElement | null>(null);
  useEffect(() => setPlace(document.getElementById(NOTICE_ID)), []);
  return place && createPortal(children, place);
}
