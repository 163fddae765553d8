import clsx from "clsx";
import type { ComponentProps } from "react";

type Kind = "main" | "outline" | "plain";

const LOOKS: Record<Kind, string> = {
  main: "bg-spruce text-on-spruce border-spruce hover:opacity-90",
  outline: "border-spruce text-spruce hover:bg-spruce-tint",
  plain: "border-transparent hover:bg-spruce-tint",
};

export function Button({ kind = "outline", className, ...props }: ComponentProps<"button"> & { kind?: Kind }) {
  return (
    <button
      type="button"
      className={clsx(
        "inline-flex items-center gap-2 rounded-lg border-[1.5px] px-3.5 py-1 font-semibold disabled:opacity-45",
        LOOKS[kind],
        className,
      )}
      {...props}
    />
  );
}
