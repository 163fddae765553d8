import type { TreatmentChange } from "../../../../core/document/index.ts";
import type { Inks } from "./inks.ts";
import { type PainterMessage, STARTED, SURFACES, type Surface } from "./picture.ts";
import { type PicturedState, PictureTeller } from "./take-picture.ts";

/** What a painter paints from: the store of the Bench. */
export interface PicturedStore {
  getState(): PicturedState;
  subscribe(listener: () => void): () => void;
  /** Settings that are dragged, on every frame; null when that is over. */
  onTreatmentDrag(listener: (changes: readonly TreatmentChange[] | null) => void): () => void;
}

/** Puts a canvas into each place, and has a worker paint them from a store: news are told it at most once a frame. */
export class Painter {
  readonly #worker: Worker;
  readonly #canvases: readonly HTMLCanvasElement[];
  readonly #places: Readonly<Record<Surface, HTMLElement>>;
  readonly #sizes: ResizeObserver;
  /** Asks whether the screen is still as fine as it was. */
  #fineness: MediaQueryList | null = null;
  readonly #teller = new PictureTeller();
  readonly #store: PicturedStore;
  readonly #unsubscribe: readonly (() => void)[];
  #dragged: readonly TreatmentChange[] | null = null;
  #inks: Inks;
  #frame = 0;

  /** @param onFailure called if the worker does not start, as when the server is away; a new painter may be luckier */
  constructor(places: Readonly<Record<Surface, HTMLElement>>, store: PicturedStore, inks: Inks, onFailure: () => void) {
    this.#places = places;
    this.#store = store;
    this.#inks = inks;
    this.#worker = new Worker(new URL("./painter.worker.ts", import.meta.url), { type: "module" });
    let hasStarted = false;
    this.#worker.addEventListener("message", ({ data }) => {
      hasStarted ||= data === STARTED;
    });
    this.#worker.addEventListener("error", (event) => {
      // Once it runs, what it throws is a fault of ours and is reported.
      if (hasStarted) return;
      event.preventDefault();
      console.warn(
        "The lanes are not painted yet, since the script for it did not start. It is tried again.",
        event.message,
      );
      onFailure();
    });
    this.#canvases = SURFACES.map((surface) => this.#give(surface, places[surface]));
    // The worker may not ask for sizes, and the page would lay itself out for each answer: the observer keeps them.
    this.#sizes = new ResizeObserver((entries) => {
      for (const { target, contentRect } of entries) {
        const surface = SURFACES.find((name) => places[name] === target)!;
        const size = { widthPx: contentRect.width, heightPx: contentRect.height };
        if (size.widthPx > 0 && size.heightPx > 0) this.#send({ kind: "size", surface, size, scale: devicePixelRatio });
      }
      // With the new size the lanes have other places: told at once, so that they are not painted at the old ones first.
      this.#tell();
    });
    this.#measure();
    this.#unsubscribe = [
      store.subscribe(() => this.#soon()),
      store.onTreatmentDrag((changes) => {
        this.#dragged = changes;
        this.#soon();
      }),
    ];
    this.#tell();
  }

  /** The colours of another theme. */
  setInks(inks: Inks): void {
    this.#inks = inks;
    this.#soon();
  }

  end(): void {
    cancelAnimationFrame(this.#frame);
    for (const stop of this.#unsubscribe) stop();
    this.#sizes.disconnect();
    this.#fineness?.removeEventListener("change", this.#measure);
    this.#worker.terminate();
    for (const canvas of this.#canvases) canvas.remove();
  }

  /** Observes the places anew, which says their sizes; also when the page comes to another screen, which resizes nothing. */
  readonly #measure = (): void => {
    this.#sizes.disconnect();
    for (const surface of SURFACES) this.#sizes.observe(this.#places[surface]);
    this.#fineness = matchMedia(`(resolution: ${devicePixelRatio}dppx)`);
    this.#fineness.addEventListener("change", this.#measure, { once: true });
  };

  #give(surface: Surface, place: HTMLElement): HTMLCanvasElement {
    const canvas = document.createElement("canvas");
    canvas.className = "pointer-events-none absolute inset-0 size-full";
    place.append(canvas);
    const offscreen = canvas.transferControlToOffscreen();
    this.#send({ kind: "surface", surface, canvas: offscreen }, [offscreen]);
    return canvas;
  }

  #soon(): void {
    if (this.#frame === 0) this.#frame = requestAnimationFrame(() => this.#tell());
  }

  #tell(): void {
    cancelAnimationFrame(this.#frame);
    this.#frame = 0;
    const news = this.#teller.tell(this.#store.getState(), this.#inks, this.#dragged);
    if (news) this.#send({ kind: "news", news });
  }

  #send(message: PainterMessage, transferred: readonly Transferable[] = []): void {
    this.#worker.postMessage(message, [...transferred]);
  }
}
