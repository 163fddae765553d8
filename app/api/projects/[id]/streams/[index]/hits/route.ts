import { respond } from "../../../../../../../src/server/http.ts";
import { database } from "../../../../../../../src/server/storage/shared-database.ts";
import { hitsOfTakeStream } from "../../../../../../../src/server/use-cases.ts";

type Context = { params: Promise<{ id: string; index: string }> };

export function GET(_request: Request, { params }: Context): Promise<Response> {
  return respond(async () => {
    const { id, index } = await params;
    return hitsOfTakeStream(database(), id, Number(index));
  });
}
