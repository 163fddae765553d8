import { redirect } from "next/navigation";
import { database } from "../src/server/database.ts";
import { listProjects } from "../src/server/projects.ts";

/** Screens without a project open the one that was worked on last. */
export function toLastProject(screen: "bench" | "maps" | "song" | "messages"): never {
  const [last] = listProjects(database());
  redirect(last ? `/${screen}/${last.id}` : "/");
}
