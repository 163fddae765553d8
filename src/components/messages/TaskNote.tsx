import { Progress } from "radix-ui";

interface TaskNoteProps {
  /** What is being done, such as “Reading Take.mid”. */
  readonly what: string;
  readonly state: { readonly kind: string; readonly ahead?: number; readonly done?: number; readonly of?: number };
  readonly onCancel: () => void;
}

/** How far something is that takes a while, with its number in the queue or its share, and a way to give it up. */
export function TaskNote({ what, state, onCancel }: TaskNoteProps) {
  const share = state.of ? (state.done ?? 0) / state.of : null;
  const words =
    state.kind === "waiting"
      ? `waiting, ${state.ahead} ahead`
      : share === null
        ? "working"
        : `${Math.round(100 * share)} %`;
  return (
    <div role="status" className="flex items-center gap-3 text-small text-muted">
      <span className="min-w-0 flex-1">
        {what}: {words} …
        {share !== null && (
          <Progress.Root
            value={share}
            max={1}
            aria-label={what}
            className="mt-1 block h-1.5 w-full overflow-hidden rounded-full border border-edge"
          >
            <Progress.Indicator
              className="block h-full bg-spruce forced-colors:bg-[Highlight]"
              style={{ width: `${100 * share}%` }}
            />
          </Progress.Root>
        )}
      </span>
      <button type="button" className="shrink-0 font-semibold text-brick underline" onClick={onCancel}>
        Cancel
      </button>
    </div>
  );
}
