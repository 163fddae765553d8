import { createReadStream, rmSync, statSync } from "node:fs";
import { Readable } from "node:stream";

/** A file as an answer, piece by piece. @param passingFolder removed once it is sent */
export function downloadOf(
  path: string,
  fileName: string,
  passingFolder?: string,
  type = "application/vnd.sqlite3",
): Response {
  const file = createReadStream(path);
  if (passingFolder) file.once("close", () => rmSync(passingFolder, { recursive: true, force: true }));
  return new Response(Readable.toWeb(file) as ReadableStream<Uint8Array>, {
    headers: {
      "content-type": type,
      "content-length": String(statSync(path).size),
      "content-disposition": `attachment; filename*=UTF-8''${encodeURIComponent(fileName)}`,
    },
  });
}
