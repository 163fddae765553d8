/** Thrown when bytes cannot be read, or messages cannot be written, as a Standard MIDI File. */
export class MidiFileError extends Error {
  override readonly name = "MidiFileError";
  constructor(
    readonly code: string,
    message: string,
    readonly byteOffset: number,
    readonly remedy: string,
  ) {
    super(message);
  }
}
