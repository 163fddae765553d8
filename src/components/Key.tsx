import type { ReactNode } from "react";

/** A key of the keyboard, in running text. */
export function Key({ children }: { children: ReactNode }) {
  return (
    <kbd className="mx-0.5 inline-block rounded border border-hairline-strong bg-sheet px-1.5 font-sans text-fine leading-[17px] font-semibold text-ink shadow-[0_1px_0_var(--hairline-strong)]">
      {children}
    </kbd>
  );
}
