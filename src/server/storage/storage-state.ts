import type { DamagedProject, Problem, StorageState } from "../../api/wire.ts";
import { readShelf } from "../projects.ts";
import { listBackups } from "./backups.ts";
import { dataFolder } from "./data-folder.ts";
import { database, expectInPlace } from "./shared-database.ts";
import { storageFaultOf } from "./storage-fault.ts";

/** How the data on the disk is, also where it cannot be opened: that is when it matters. */
export function storageState(): StorageState {
  const folder = dataFolder();
  let problem: Problem | null = null;
  let damaged: readonly DamagedProject[] = [];
  try {
    damaged = readShelf(database()).damaged;
    expectInPlace();
  } catch (error) {
    const fault = storageFaultOf(error);
    if (!fault) throw error;
    problem = fault.problem;
  }
  return { folder, backups: listBackups(folder), damaged, problem };
}
