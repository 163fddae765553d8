/**
 * Reads the text of a name, marker or lyric. Files carry no encoding: what is well-formed UTF-8 is read as that, the
 * rest as Latin-1, so that no byte is refused. Written by hand because the core has no TextDecoder.
 */
export function readText(bytes: Uint8Array): string {
  return readUtf8(bytes) ?? readLatin1(bytes);
}

function readLatin1(bytes: Uint8Array): string {
  let text = "";
  for (const byte of bytes) text += String.fromCharCode(byte);
  return text;
}

function readUtf8(bytes: Uint8Array): string | null {
  let text = "";
  for (let offset = 0; offset < bytes.length; ) {
    const lead = bytes[offset]!;
    const size = lead < 0x80 ? 1 : lead >> 5 === 0b110 ? 2 : lead >> 4 === 0b1110 ? 3 : lead >> 3 === 0b11110 ? 4 : 0;
    if (size === 0 || offset + size > bytes.length) return null;
    let codePoint = size === 1 ? lead : lead & (0x7f >> size);
    for (let index = 1; index < size; index++) {
      const byte = bytes[offset + index]!;
      if (byte >> 6 !== 0b10) return null;
      codePoint = (codePoint << 6) | (byte & 0x3f);
    }
    const smallest = [0, 0, 0x80, 0x800, 0x10000][size]!;
    if (codePoint < smallest || codePoint > 0x10ffff || (codePoint >= 0xd800 && codePoint < 0xe000)) return null;
    text += String.fromCodePoint(codePoint);
    offset += size;
  }
  return text;
}

/** Writes a text as UTF-8. */
export function writeText(text: string): Uint8Array {
  const bytes: number[] = [];
  for (const character of text) {
    const codePoint = character.codePointAt(0)!;
    if (codePoint < 0x80) bytes.push(codePoint);
    else if (codePoint < 0x800) bytes.push(0xc0 | (codePoint >> 6), 0x80 | (codePoint & 0x3f));
    else if (codePoint < 0x10000) {
      bytes.push(0xe0 | (codePoint >> 12), 0x80 | ((codePoint >> 6) & 0x3f), 0x80 | (codePoint & 0x3f));
    } else {
      bytes.push(
        0xf0 | (codePoint >> 18),
        0x80 | ((codePoint >> 12) & 0x3f),
        0x80 | ((codePoint >> 6) & 0x3f),
        0x80 | (codePoint & 0x3f),
      );
    }
  }
  return Uint8Array.from(bytes);
}
