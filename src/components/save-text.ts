/** Lets the browser save a text as a file. */
export function saveText(fileName: string, type: string, text: string): void {
  saveBlob(fileName, new Blob([text], { type }));
}

export function saveBytes(fileName: string, type: string, bytes: Uint8Array): void {
  saveBlob(fileName, new Blob([new Uint8Array(bytes)], { type }));
}

export function saveBlob(fileName: string, blob: Blob): void {
  const url = URL.createObjectURL(blob);
  const link = document.createElement("a");
  link.href = url;
  // A name from a file may hold signs that no file name can.
  link.download = fileName.replaceAll(/[\\/:*?"<>|]/g, " ");
  link.click();
  // The download has begun by then; kept any longer, the text would stay in memory.
  setTimeout(() => URL.revokeObjectURL(url), 10_000);
}
