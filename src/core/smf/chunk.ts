export function isTrackChunk(bytes: Uint8Array, offset: number): boolean {
  return (
    bytes[offset] === 0x4d && bytes[offset + 1] === 0x54 && bytes[offset + 2] === 0x72 && bytes[offset + 3] === 0x6b
  );
}

/** A chunk's name is four printable ASCII characters. */
export function isChunkId(bytes: Uint8Array, offset: number): boolean {
  for (let index = 0; index < 4; index++) {
    const byte = bytes[offset + index];
    if (byte === undefined || byte < 0x20 || byte > 0x7e) return false;
  }
  return true;
}

/** The next track chunk at or after `offset`, or the end of the file. */
export function findTrackChunk(bytes: Uint8Array, offset: number): number {
  for (let at = bytes.indexOf(0x4d, offset); at >= 0; at = bytes.indexOf(0x4d, at + 1)) {
    if (isTrackChunk(bytes, at)) return at;
  }
  return bytes.length;
}

/** Whether a chunk may begin here: the end of the file, or a name. */
export function isChunkBoundary(bytes: Uint8Array, offset: number): boolean {
  return offset === bytes.length || isChunkId(bytes, offset);
}
