"use client";

import { QueryClient, QueryClientProvider } from "@tanstack/react-query";
import { Tooltip } from "radix-ui";
import { type CSSProperties, createContext, type ReactNode, useContext, useState } from "react";
import { Toaster } from "sonner";

export type Theme = "day" | "night";

interface ThemeControl {
  readonly theme: Theme;
  readonly setTheme: (theme: Theme) => void;
}

const ThemeContext = createContext<ThemeControl>({ theme: "day", setTheme: () => {} });

export const useTheme = () => useContext(ThemeContext);

const A_YEAR_S = 31_536_000;

/** What stands around every screen: theme, tooltips and toasts. */
export function Frame({ theme: initial, children }: { theme: Theme; children: ReactNode }) {
  /** One for the whole page, of what is on the shelf. */
  const [shelfCache] = useState(() => new QueryClient());
  const [theme, changeTheme] = useState(initial);
  const setTheme = (next: Theme) => {
    document.documentElement.dataset.theme = next;
    // biome-ignore lint/suspicious/noDocumentCookie: the Cookie Store API is missing in some browsers
    document.cookie = `theme=${next}; path=/; max-age=${A_YEAR_S}; samesite=strict`;
    changeTheme(next);
  };
  return (
    <ThemeContext value={{ theme, setTheme }}>
      <QueryClientProvider client={shelfCache}>
        <Tooltip.Provider delayDuration={500}>{children}</Tooltip.Provider>
      </QueryClientProvider>
      <Toaster
        theme={theme === "night" ? "dark" : "light"}
        position="bottom-right"
        // For screens that have no place of their own for messages; several stand one above the other.
        offset={{ bottom: 72, right: 12 }}
        mobileOffset={{ bottom: 72 }}
        expand
        visibleToasts={3}
        gap={8}
        // Over sheets, and under menus: whoever has opened one is about to choose.
        style={{ fontFamily: "inherit", zIndex: 45, "--width": "288px" } as CSSProperties}
        toastOptions={{
          style: {
            fontFamily: "inherit",
            background: "var(--sheet)",
            color: "var(--ink)",
            borderColor: "var(--hairline-strong)",
          },
          actionButtonStyle: {
            background: "none",
            color: "var(--spruce)",
            fontWeight: 700,
            textDecoration: "underline",
          },
        }}
      />
    </ThemeContext>
  );
}
