/** The notes of one channel on one track, and whether they are taken for drums. */
export interface NoteStream {
  readonly trackIndex: number;
  /** 0 to 15; a person reads 1 to 16. */
  readonly channel: number;
  readonly trackName: string;
  readonly noteCount: number;
  readonly isDrums: boolean;
  /** Why, in words for a person. */
  readonly reason: string;
}

/** What a track is called: by its name, or by its number, as people count. */
export function trackLabel({ trackName, trackIndex }: Pick<NoteStream, "trackName" | "trackIndex">): string {
  return trackName.trim() === "" ? `Track ${trackIndex + 1}` : trackName.trim();
}
