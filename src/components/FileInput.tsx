import type { RefObject } from "react";

/** Files that may be recordings, as a browser asks for them. */
export const MIDI_ACCEPT = ".mid,.midi,.smf,.kar,.rmi,audio/midi";

interface FileInputProps {
  /** Clicked by the button that asks for a file. */
  readonly inputRef: RefObject<HTMLInputElement | null>;
  readonly label: string;
  readonly accept: string;
  readonly onFile: (file: File) => void;
}

/** The browser's choice of a file, for a button of ours. The same file can be chosen again. */
export function FileInput({ inputRef, label, accept, onFile }: FileInputProps) {
  return (
    <input
      ref={inputRef}
      type="file"
      accept={accept}
      aria-label={label}
      className="sr-only"
      tabIndex={-1}
      onChange={(event) => {
        const file = event.target.files?.[0];
        event.target.value = "";
        if (file) onFile(file);
      }}
    />
  );
}
