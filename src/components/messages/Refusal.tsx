import clsx from "clsx";
import type { ReactNode } from "react";

/** Why something that was typed cannot be taken, beside where it was typed. */
export function Refusal({ className, children }: { className?: string; children: ReactNode }) {
  return (
    <p role="alert" className={clsx("rounded-md border border-brick bg-brick-tint px-3 py-1.5 text-ink", className)}>
      {children}
    </p>
  );
}
