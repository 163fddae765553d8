import { X } from "lucide-react";
import { type FormEvent, useState } from "react";
import { LONGEST_TAG, MOST_TAGS } from "../core/document/index.ts";

interface TagsProps {
  readonly tags: readonly string[];
  /** Null where they come with the application. */
  readonly onChange: ((tags: readonly string[]) => void) | null;
}

/** The words that something on a shelf is found by. */
export function Tags({ tags, onChange }: TagsProps) {
  const [text, setText] = useState("");
  const submit = (event: FormEvent) => {
    event.preventDefault();
    const tag = text.trim().toLowerCase();
    setText("");
    if (tag !== "" && !tags.includes(tag)) onChange?.([...tags, tag]);
  };
  return (
    <div className="mb-2 flex flex-wrap items-center gap-2 text-small">
      <span className="text-muted">Tags:</span>
      {tags.length === 0 && !onChange && <span className="text-muted">none</span>}
      {tags.map((tag) => (
        <span key={tag} className="flex items-center gap-1 rounded-full border border-hairline-strong px-2.5">
          {tag}
          {onChange && (
            <button
              type="button"
              aria-label={`Remove the tag ${tag}`}
              className="text-muted hover:text-ink"
              onClick={() => onChange(tags.filter((one) => one !== tag))}
            >
              <X size={13} />
            </button>
          )}
        </span>
      ))}
      {onChange && tags.length < MOST_TAGS && (
        <form onSubmit={submit}>
          <input
            aria-label="Add a tag"
            placeholder="add a tag, Enter"
            value={text}
            maxLength={LONGEST_TAG}
            className="w-36 rounded-md border border-hairline-strong bg-sheet px-2 py-0.5"
            onChange={(event) => setText(event.target.value)}
          />
        </form>
      )}
    </div>
  );
}
