import { respond } from "../../../../src/server/http.ts";
import { sharedTasks } from "../../../../src/server/task-queue.ts";

/** How far some long work is, by the ticket that whoever waits for it has chosen. */
export function GET(_request: Request, { params }: { params: Promise<{ ticket: string }> }): Promise<Response> {
  return respond(async () => sharedTasks().stateOf((await params).ticket));
}
