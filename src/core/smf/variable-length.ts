/**
 * Writes one variable-length quantity.
 * @param value 0 to 0x0FFFFFFF
 * @returns the offset after the last byte written
 * @source Standard MIDI Files 1.0, variable-length quantity
 */
export function writeVariableLength(target: Uint8Array, byteOffset: number, value: number): number {
  let offset = byteOffset;
  for (let shift = 21; shift > 0; shift -= 7) {
    if (value >= 1 << shift) target[offset++] = ((value >> shift) & 0x7f) | 0x80;
  }
  target[offset++] = value & 0x7f;
  return offset;
}

export function variableLengthSize(value: number): number {
  return value < 0x80 ? 1 : value < 0x4000 ? 2 : value < 0x200000 ? 3 : 4;
}
