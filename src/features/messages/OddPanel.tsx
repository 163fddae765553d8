import clsx from "clsx";
import type { OddMessages } from "../../core/messages/index.ts";

interface OddPanelProps {
  readonly odd: readonly OddMessages[];
  readonly shownKind: OddMessages["kind"] | null;
  readonly onShow: (kind: OddMessages["kind"] | null) => void;
  readonly onTakeOut: (odd: OddMessages) => void;
}

/** Messages that are likely not meant, each kind with the reason and what can be done. */
export function OddPanel({ odd, shownKind, onShow, onTakeOut }: OddPanelProps) {
  return (
    <aside
      aria-label="Unusual messages"
      className="w-[296px] shrink-0 overflow-y-auto border-l max-lg:w-auto max-lg:border-t max-lg:border-l-0 border-hairline bg-sheet px-[18px] py-3.5"
    >
      <h2 className="text-title font-bold">{odd.length === 0 ? "Nothing unusual" : "Unusual messages"}</h2>
      <p className="text-muted">
        {odd.length === 0 ? "No unusual messages in this take." : "Nothing is removed unless you say so."}
      </p>
      <ul className="mt-3">
        {odd.map((one) => (
          <li
            key={one.kind}
            className={clsx("-mx-2 border-t border-hairline px-2 py-2.5", one.kind === shownKind && "bg-amber-tint")}
          >
            <p className="flex justify-between gap-3">
              <strong>{one.title}</strong>
              <span className="text-muted">{one.rows.length.toLocaleString("en")}</span>
            </p>
            <p className="text-small leading-snug text-muted">{one.sentence}</p>
            <p className="mt-1 flex gap-4 text-small">
              <button
                type="button"
                aria-pressed={one.kind === shownKind}
                className="font-bold text-spruce underline"
                onClick={() => onShow(one.kind === shownKind ? null : one.kind)}
              >
                {one.kind === shownKind ? "Show all again" : "Show"}
              </button>
              <button
                type="button"
                aria-label={`Remove ${one.rows.length === 1 ? "it" : "them"}: ${one.title}`}
                className="font-bold text-spruce underline"
                onClick={() => onTakeOut(one)}
              >
                Remove {one.rows.length === 1 ? "it" : "them"}
              </button>
            </p>
          </li>
        ))}
      </ul>
    </aside>
  );
}
