import { redirect } from "next/navigation";
import { listProjects } from "../src/server/projects.ts";
import { database } from "../src/server/storage/shared-database.ts";
import { storageFaultOf } from "../src/server/storage/storage-fault.ts";

/** None where the data cannot be opened: the Shelf says why. */
function readable() {
  try {
    return listProjects(database());
  } catch (error) {
    if (!storageFaultOf(error)) throw error;
    return [];
  }
}

/** Screens without a project open the one that was worked on last. @param query what the address asks for besides */
export function toLastProject(
  screen: "bench" | "maps" | "patterns" | "song" | "messages",
  query: Readonly<Record<string, string>> = {},
): never {
  const [last] = readable();
  const asked = new URLSearchParams(query).toString();
  redirect(last ? `/${screen}/${last.id}${asked && `?${asked}`}` : "/");
}
