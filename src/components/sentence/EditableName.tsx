import clsx from "clsx";
import { useState } from "react";

interface EditableNameProps {
  /** What the name is of, for those who cannot see it. */
  readonly label: string;
  readonly name: string;
  /** Refuses a name by returning why; null takes it. */
  readonly onRename: (name: string) => string | null;
  readonly isFixed?: boolean;
  readonly className?: string;
}

/** A name that is edited where it stands: Enter takes it, Escape gives up. What is wrong with it is said beside it. */
export function EditableName({ label, name, onRename, isFixed = false, className }: EditableNameProps) {
  const [draft, setDraft] = useState<string | null>(null);
  const [refusal, setRefusal] = useState<string | null>(null);
  /** Whether a key ended it: then the focus goes back to where it came from. */
  const [isBack, setIsBack] = useState(false);
  if (isFixed) return <span className={className}>{name}</span>;
  if (draft === null) {
    return (
      <button
        type="button"
        // biome-ignore lint/a11y/noAutofocus: the button takes the place of the field that had the focus
        autoFocus={isBack}
        title="Rename"
        className={clsx("max-w-full truncate rounded text-left hover:bg-spruce-tint", className)}
        onClick={() => {
          setIsBack(false);
          setDraft(name);
        }}
      >
        {name}
      </button>
    );
  }
  const end = () => {
    setDraft(null);
    setRefusal(null);
  };
  const take = () => {
    if (draft.trim() === name) return end();
    const why = onRename(draft.trim());
    if (why === null) end();
    else setRefusal(why);
  };
  return (
    <span className="relative inline-block max-w-full">
      <input
        // biome-ignore lint/a11y/noAutofocus: the field takes the place of the button that was pressed
        autoFocus
        aria-label={label}
        aria-invalid={refusal !== null}
        className={clsx("w-full min-w-24 rounded border border-edge bg-paper px-1", className)}
        value={draft}
        onFocus={(event) => event.target.select()}
        onChange={(event) => {
          setDraft(event.target.value);
          setRefusal(null);
        }}
        onKeyDown={(event) => {
          if (event.key === "Enter" || event.key === "Escape") {
            // Otherwise the button that takes the focus would be pressed by the same key.
            event.preventDefault();
            setIsBack(true);
            if (event.key === "Enter") take();
            else end();
          }
          event.stopPropagation();
        }}
        onBlur={() => (refusal === null ? take() : end())}
      />
      {refusal && (
        <span
          role="alert"
          className="absolute top-full left-0 z-20 mt-1 w-64 rounded-md border border-brick bg-brick-tint px-2 py-1 text-small font-normal text-ink"
        >
          {refusal}
        </span>
      )}
    </span>
  );
}
