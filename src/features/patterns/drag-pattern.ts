import type { DragEvent } from "react";
import { plainFileName } from "../../core/pattern/index.ts";
import type { MarkedEntry } from "./marked.ts";

/** What a dragged pattern is known by within the application. */
const PATTERN_TYPE = "application/x-idle-marten-pattern";
/** A file that is dropped somewhere is fetched a moment later. */
const KEPT_MS = 60_000;

/**
 * Begins to drag a pattern: onto the song, or out of the page, where browsers that can (they take `DownloadURL`) drop a file.
 * @param bytes of its file
 */
export function beginDrag({ dataTransfer }: DragEvent, { id, name }: MarkedEntry, bytes: Uint8Array): void {
  const url = URL.createObjectURL(new Blob([new Uint8Array(bytes)], { type: "audio/midi" }));
  setTimeout(() => URL.revokeObjectURL(url), KEPT_MS);
  dataTransfer.effectAllowed = "copy";
  dataTransfer.setData(PATTERN_TYPE, id);
  dataTransfer.setData("DownloadURL", `audio/midi:${plainFileName(name)}.mid:${url}`);
  dataTransfer.setData("text/plain", name);
}

/** Whether it is a pattern that is dragged over something; then it may be dropped there. */
export function isPatternDrag(event: DragEvent): boolean {
  if (!event.dataTransfer.types.includes(PATTERN_TYPE)) return false;
  event.preventDefault();
  event.dataTransfer.dropEffect = "copy";
  return true;
}

export const droppedId = ({ dataTransfer }: DragEvent): string => dataTransfer.getData(PATTERN_TYPE);
