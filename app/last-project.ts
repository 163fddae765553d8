import { redirect } from "next/navigation";
import { listProjects } from "../src/server/projects.ts";
import { database } from "../src/server/storage/shared-database.ts";

/** Screens without a project open the one that was worked on last. */
export function toLastProject(screen: "bench" | "maps" | "song" | "messages"): never {
  const [last] = listProjects(database());
  redirect(last ? `/${screen}/${last.id}` : "/");
}
