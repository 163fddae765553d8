import { CANVAS_FONT_FILES } from "./font-files.ts";
import { CANVAS_FAMILY } from "./inks.ts";
import { type PainterMessage, STARTED, type Surface } from "./picture.ts";
import { PictureDesk } from "./picture-desk.ts";

// Paints the lanes and the ruler, so that the page is free to follow the hand. Its first message says that it runs.

const desk = new PictureDesk();
const canvases = new Map<Surface, OffscreenCanvas>();
type NewSize = Extract<PainterMessage, { kind: "size" }>;
const sizes = new Map<Surface, NewSize>();
let isDue = false;
/** A canvas keeps the face that it found for its words at first, even if the right one comes later. So painting waits for it, a while. */
let mayPaint = false;
const LONGEST_WAIT_MS = 2000;

postMessage(STARTED);
// Reached by tests alone, from within this worker.
Object.assign(self, { painted: () => desk.painted() });

addEventListener("message", ({ data }: MessageEvent<PainterMessage>) => {
  switch (data.kind) {
    case "surface":
      canvases.set(data.surface, data.canvas);
      return;
    case "size":
      sizes.set(data.surface, data);
      soon();
      return;
    case "news":
      desk.take(data.news);
      soon();
      return;
    default:
      data satisfies never;
  }
});

/** Paints once what came in meanwhile is taken: while it paints, several news may wait. */
function soon(): void {
  if (isDue || !mayPaint) return;
  isDue = true;
  setTimeout(() => {
    isDue = false;
    for (const [surface, size] of sizes) resize(surface, size);
    sizes.clear();
    desk.paint();
  });
}

/** Not before it is painted: with its new size it is blank. */
function resize(surface: Surface, { size, scale }: NewSize): void {
  const canvas = canvases.get(surface);
  const context = canvas?.getContext("2d");
  if (!canvas || !context) return;
  canvas.width = Math.round(size.widthPx * scale);
  canvas.height = Math.round(size.heightPx * scale);
  desk.place(surface, { context, size, scale });
}

const loads = CANVAS_FONT_FILES.map(async ({ url, unicodeRange }) => {
  const font = new FontFace(CANVAS_FAMILY, `url(${url})`, { weight: "200 800", unicodeRange });
  (self as unknown as { fonts: FontFaceSet }).fonts.add(font);
  await font.load();
});
void Promise.race([
  Promise.all(loads).catch((error: unknown) =>
    console.warn("The words of the lanes are in another face, since their font did not load.", error),
  ),
  new Promise((resolve) => setTimeout(resolve, LONGEST_WAIT_MS)),
]).then(() => {
  mayPaint = true;
  soon();
});
