export const dynamic = "force-dynamic";

import { redirect } from "next/navigation";
import { database } from "../../src/server/database.ts";
import { listProjects } from "../../src/server/projects.ts";

/** The Bench without a project opens the one that was worked on last. */
export default function Page() {
  const [last] = listProjects(database());
  redirect(last ? `/bench/${last.id}` : "/");
}
