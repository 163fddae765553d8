import { readExportChoice } from "../../../../../src/api/schemas.ts";
import { respond, taskOf } from "../../../../../src/server/http.ts";
import { database } from "../../../../../src/server/storage/shared-database.ts";
import { exportProject } from "../../../../../src/server/use-cases.ts";

export function GET(request: Request, { params }: { params: Promise<{ id: string }> }): Promise<Response> {
  return respond(async () => {
    const choice = readExportChoice(new URL(request.url).searchParams);
    const { fileName, bytes } = await exportProject(database(), (await params).id, choice, taskOf(request));
    return new Response(bytes as Uint8Array<ArrayBuffer>, {
      headers: {
        "content-type": "audio/midi",
        "content-disposition": `attachment; filename*=UTF-8''${encodeURIComponent(fileName)}`,
      },
    });
  });
}
