/** Something to sound at a time of the pattern. `key` tells it apart from all others in one pass. */
export interface SoundEvent {
  readonly key: string;
  readonly ms: number;
  readonly voiceId: string;
  readonly articulationId: string;
  /** 1 to 127. */
  readonly velocity: number;
  /** Makes it louder or softer than its velocity says. Left out, 1. */
  readonly gain?: number;
  /** When a foot or a hand stops it; it rings out otherwise. */
  readonly stopAfterMs?: number;
  /** Where the hat pedal was, 0 (open) to 127; left out where nothing is known of it. */
  readonly pedal?: number;
  /** A note of a track that is not drums: it is a simple tone, whatever the voice. 69 is 440 Hz. */
  readonly toneNote?: number;
}

export interface Loop {
  readonly startMs: number;
  readonly endMs: number;
}

/** Where events come from. It is asked anew for every stretch, so that a changed setting is heard at once. */
export interface EventSource {
  /** @param round how often the loop has come round since this began */
  eventsBetween(startMs: number, endMs: number, round: number): readonly SoundEvent[];
  loop(): Loop | null;
  endMs(): number;
}

/** From this moment of the audio clock the pattern plays on from this place. */
interface Anchor {
  readonly timeS: number;
  readonly ms: number;
}

const SHORTEST_S = 1e-6;

export interface PlannedEvent {
  readonly event: SoundEvent;
  /** On the audio clock. */
  readonly timeS: number;
}

/**
 * Plans what sounds when. It knows no audio: it turns stretches of the audio clock into events with exact times, through
 * loops, and never plans an event twice in one pass, although events may move while it runs.
 */
export class Transport {
  readonly #source: EventSource;
  /** Planned up to here. */
  #head: Anchor;
  #anchors: Anchor[];
  #planned = new Set<string>();
  #round = 0;
  #endTimeS: number | null = null;

  constructor(source: EventSource, startTimeS: number, startMs: number) {
    this.#source = source;
    this.#head = { timeS: startTimeS, ms: startMs };
    this.#anchors = [this.#head];
  }

  /**
   * Plans everything up to a moment of the audio clock.
   * @param nowS the audio clock now; events that a change has moved into the planned stretch are caught up after it
   * @returns events in the order of their times
   */
  plan(nowS: number, untilS: number): readonly PlannedEvent[] {
    const planned: PlannedEvent[] = [];
    this.#catchUp(nowS, planned);
    // A stretch shorter than the clock can tell would never end, for adding it would change nothing.
    while (untilS - this.#head.timeS > SHORTEST_S && this.#endTimeS === null) {
      const loop = this.#source.loop();
      const endMs = this.#source.endMs();
      if (loop && this.#head.ms >= loop.endMs - 1e-6) {
        this.#jumpTo(loop.startMs);
        continue;
      }
      if (this.#head.ms >= endMs) {
        this.#endTimeS = this.#head.timeS;
        break;
      }
      const stretchMs = (untilS - this.#head.timeS) * 1000;
      const stopMs = Math.min(this.#head.ms + stretchMs, loop?.endMs ?? endMs, endMs);
      this.#take(this.#head.ms, stopMs, this.#anchors.at(-1)!, planned);
      this.#head = { timeS: this.#head.timeS + (stopMs - this.#head.ms) / 1000, ms: stopMs };
    }
    this.#forgetAnchorsBefore(nowS);
    return planned.sort((a, b) => a.timeS - b.timeS);
  }

  /** A change may have moved an event from behind the head to before it; it still sounds if its time is not over. */
  #catchUp(nowS: number, planned: PlannedEvent[]): void {
    const anchor = this.#anchors.at(-1)!;
    const nowMs = anchor.ms + (nowS - anchor.timeS) * 1000;
    this.#take(Math.max(nowMs, anchor.ms), this.#head.ms, anchor, planned);
  }

  #take(startMs: number, stopMs: number, anchor: Anchor, planned: PlannedEvent[]): void {
    if (stopMs <= startMs) return;
    for (const event of this.#source.eventsBetween(startMs, stopMs, this.#round)) {
      if (this.#planned.has(event.key)) continue;
      this.#planned.add(event.key);
      planned.push({ event, timeS: anchor.timeS + (event.ms - anchor.ms) / 1000 });
    }
  }

  #jumpTo(ms: number): void {
    this.#head = { timeS: this.#head.timeS, ms };
    this.#anchors.push(this.#head);
    this.#planned.clear();
    this.#round++;
  }

  #forgetAnchorsBefore(nowS: number): void {
    while (this.#anchors.length > 1 && this.#anchors[1]!.timeS <= nowS) this.#anchors.shift();
  }

  /** Plans these events no more in this pass. */
  passOver(keys: readonly string[]): void {
    for (const key of keys) this.#planned.add(key);
  }

  /** The place that sounds at a moment of the audio clock. */
  placeAt(timeS: number): number {
    const anchor = this.#anchors.findLast((candidate) => candidate.timeS <= timeS) ?? this.#anchors[0]!;
    return Math.max(anchor.ms, anchor.ms + (timeS - anchor.timeS) * 1000);
  }

  /** When the pattern ends on the audio clock; null while it goes on. */
  get endTimeS(): number | null {
    return this.#endTimeS;
  }
}
