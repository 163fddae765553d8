import type { PaintContext } from "./paint-fins.ts";
import { paintLanes } from "./paint-lanes.ts";
import { paintRuler } from "./paint-ruler.ts";
import {
  BIT,
  type LanePicture,
  type LaneSource,
  type PictureNews,
  type ScenePicture,
  type Size,
  type Surface,
} from "./picture.ts";
import { treatedPicture } from "./treat-picture.ts";

/** A surface as the desk paints on it: its own pixels for each px, and its size in px. */
export interface PaintedSurface {
  readonly context: PaintContext & Pick<CanvasRenderingContext2D, "setTransform">;
  readonly size: Size;
  readonly scale: number;
}

/**
 * Keeps the picture of the Bench from the news of it, and paints what is out of date: all, or only lanes in which something has
 * changed, such as the one whose setting is dragged.
 */
export class PictureDesk {
  #scene: Partial<ScenePicture> = {};
  #lanes: readonly LanePicture[] = [];
  /** What the lanes' surface shows; null if nothing of it holds. */
  #shown: readonly LanePicture[] | null = null;
  #isRulerOld = true;
  #dragged: PictureNews["dragged"] = null;
  readonly #sources = new Map<string, LaneSource>();
  readonly #surfaces = new Map<Surface, PaintedSurface>();

  take({ scene, lanes, dragged, sources = [] }: PictureNews): void {
    const known = new Map(this.#lanes.map((lane) => [lane.voiceId, lane]));
    const next = lanes.map((changes): LanePicture => {
      const before = known.get(changes.voiceId);
      return before && Object.keys(changes).length === 1 ? before : ({ ...before, ...changes } as LanePicture);
    });
    const areSame =
      next.length === this.#lanes.length && next.every(({ voiceId }, index) => voiceId === this.#lanes[index]!.voiceId);
    if (!areSame || Object.keys(scene).length > 0) this.spoil();
    this.#scene = { ...this.#scene, ...scene };
    this.#lanes = next;
    for (const source of sources) this.#sources.set(source.voiceId, source);
    if (dragged !== undefined) this.#dragged = dragged;
  }

  /** The lanes with the settings that are dragged. */
  #treated({ maps }: ScenePicture): readonly LanePicture[] {
    const dragged = this.#dragged;
    if (!dragged) return this.#lanes;
    return this.#lanes.map((lane) => {
      const to = dragged.find(({ voiceId }) => voiceId === lane.voiceId)?.to;
      const source = this.#sources.get(lane.voiceId);
      return to && source ? treatedPicture(lane, source, to, maps) : lane;
    });
  }

  /** A surface is blank once it is given another size. */
  place(surface: Surface, painted: PaintedSurface): void {
    this.#surfaces.set(surface, painted);
    this.spoil();
  }

  /** Nothing that is painted holds any longer. */
  spoil(): void {
    this.#shown = null;
    this.#isRulerOld = true;
  }

  /**
   * What the lanes' surface shows, hit by hit: place, loudness, role, ink and marks, and the settings that were dragged when it was
   * painted. Null while nothing of it holds. Tests compare this, and not pixels. Hits worth a look are left out: they are marked later.
   */
  painted(): { readonly dragged: PictureNews["dragged"]; readonly fins: string } | null {
    if (this.#shown === null) return null;
    const fins = this.#shown.map(({ voiceId, ticks, velocities, roles, bits, hitInks, ink }) => {
      const hits = Array.from(ticks, (tick, row) =>
        [tick.toFixed(3), velocities[row], roles[row], bits[row]! & ~BIT.flagged, hitInks?.[row] ?? ink].join(" "),
      );
      return `${voiceId}: ${hits.join(", ")}`;
    });
    return { dragged: this.#dragged, fins: fins.join("\n") };
  }

  paint(): void {
    const scene = this.#scene as ScenePicture;
    if (scene.inks === undefined) return;
    const lanes = this.#surfaces.get("lanes");
    if (lanes) {
      prepare(lanes, this.#shown === null);
      const shown = this.#treated(scene);
      paintLanes(lanes.context, scene, shown, this.#shown);
      this.#shown = shown;
    }
    const ruler = this.#surfaces.get("ruler");
    if (ruler && this.#isRulerOld) {
      prepare(ruler, true);
      paintRuler(ruler.context, scene, ruler.size.heightPx);
      this.#isRulerOld = false;
    }
  }
}

function prepare({ context, size, scale }: PaintedSurface, isBlank: boolean): void {
  context.setTransform(scale, 0, 0, scale, 0, 0);
  if (isBlank) context.clearRect(0, 0, size.widthPx, size.heightPx);
}
