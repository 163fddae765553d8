import clsx from "clsx";
import { X } from "lucide-react";
import { useEffect } from "react";
import { useStore } from "zustand";
import { dropMessage, holdMessages, messages, PLACE_LABEL } from "./message-list.ts";

/**
 * The place of a screen in which it tells what was done: it is always there, so that nothing moves when something is said.
 * @param state what remedies depend on: they are asked anew when it is another
 */
export function Messages({ state: _ }: { state: unknown }) {
  const list = useStore(messages, (state) => state.list);
  useEffect(holdMessages, []);
  return (
    <section aria-label={PLACE_LABEL} aria-live="polite" className="min-w-0 text-fine leading-[16px]">
      {list.map((message) => (
        <p key={message.words} className="flex items-baseline justify-end gap-2">
          <span
            title={message.words}
            className={clsx(
              list.length > 1 ? "truncate" : "line-clamp-2",
              message.isTrouble ? "text-brick" : "text-ink",
            )}
          >
            {message.words}
          </span>
          {message.remedy && (message.remedy.isOpen?.() ?? true) && (
            <button
              type="button"
              className="shrink-0 font-bold text-spruce underline"
              onClick={() => {
                dropMessage(message);
                message.remedy?.act();
              }}
            >
              {message.remedy.label}
            </button>
          )}
          {message.stays && (
            <button
              type="button"
              aria-label="Close the message"
              className="shrink-0"
              onClick={() => dropMessage(message)}
            >
              <X size={13} />
            </button>
          )}
        </p>
      ))}
    </section>
  );
}
