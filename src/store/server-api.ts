import type {
  Answer,
  ImportedProject,
  KeptMap,
  MapReading,
  OpenProject,
  Problem,
  ProjectCard,
  Saved,
  SaveRequest,
  StaleAnswer,
} from "../api/wire.ts";
import type { NoteMap } from "../core/notemap/index.ts";
import type { Hit, LogEntry, Part, TrackLayout } from "../core/part/index.ts";

/** A problem that the server answered with, or that kept us from reaching it. */
export class ServerProblem extends Error {
  override readonly name = "ServerProblem";
  constructor(
    readonly problem: Problem,
    options?: ErrorOptions,
  ) {
    super(problem.message, options);
  }
}

async function ask<Value>(path: string, init?: RequestInit): Promise<Value> {
  const answer = await read<Answer<Value>>(path, init);
  if (!answer.ok) throw new ServerProblem(answer.problem);
  return answer.value;
}

async function read<Body>(path: string, init?: RequestInit): Promise<Body> {
  try {
    const response = await fetch(path, init);
    return (await response.json()) as Body;
  } catch (error) {
    // A refused connection is a TypeError, an answer that is no JSON a SyntaxError; both mean: not our server.
    if (!(error instanceof TypeError || error instanceof SyntaxError)) throw error;
    const problem = {
      code: "server.unreachable",
      message: "The application does not answer.",
      remedy: "Check that it is still running in its terminal. Your changes are kept here until it answers.",
    };
    throw new ServerProblem(problem, { cause: error });
  }
}

const asJson = (method: string, body: unknown): RequestInit => ({
  method,
  headers: { "content-type": "application/json" },
  body: JSON.stringify(body),
});

export const listProjects = () => ask<readonly ProjectCard[]>("/api/projects");
export const openProject = (id: string) => ask<OpenProject>(`/api/projects/${id}`);
export const readLog = (id: string) => ask<readonly LogEntry[]>(`/api/projects/${id}/log`);
export const hitsOfStream = (id: string, streamIndex: number) =>
  ask<readonly Hit[]>(`/api/projects/${id}/streams/${streamIndex}/hits`);
export const exportPath = (id: string, layout: TrackLayout) => `/api/projects/${id}/export?layout=${layout}`;
export const takePath = (id: string) => `/api/projects/${id}/take`;

/** Where one voice, or one stroke of it, can be had as a file. */
export function partPath(id: string, { voiceId, articulationId }: Part): string {
  const query = new URLSearchParams({ voice: voiceId, ...(articulationId === null ? {} : { stroke: articulationId }) });
  return `/api/projects/${id}/export?${query}`;
}

export const takeOutPart = (id: string, part: Part) =>
  ask<ImportedProject>(`/api/projects/${id}/parts`, asJson("POST", part));

export const renameProject = (id: string, name: string) =>
  ask<unknown>(`/api/projects/${id}`, asJson("PATCH", { name }));
export const setProjectRemoved = (id: string, isRemoved: boolean) =>
  ask<unknown>(`/api/projects/${id}`, asJson("PATCH", { isRemoved }));

export const importFile = (file: File) =>
  ask<ImportedProject>(`/api/takes?name=${encodeURIComponent(file.name)}`, { method: "POST", body: file });

export const listMaps = () => ask<readonly KeptMap[]>("/api/maps");
export const keepMap = (map: NoteMap) => ask<KeptMap>("/api/maps", asJson("POST", map));
export const changeMap = (map: NoteMap) => ask<KeptMap>(`/api/maps/${map.id}`, asJson("PUT", map));
export const removeMap = (id: string) => ask<unknown>(`/api/maps/${id}`, { method: "DELETE" });
export const putMapBack = (id: string) => ask<unknown>(`/api/maps/${id}`, { method: "POST" });
export const readMapFile = (file: File) =>
  ask<MapReading>(`/api/maps/read?name=${encodeURIComponent(file.name)}`, { method: "POST", body: file });

/** A stale answer is no failure: it brings what is newer. */
export async function saveEdits(id: string, request: SaveRequest): Promise<Saved | StaleAnswer> {
  const answer = await read<Answer<Saved> | StaleAnswer>(`/api/projects/${id}/edits`, asJson("POST", request));
  if (answer.ok) return answer.value;
  if ("newer" in answer) return answer;
  throw new ServerProblem(answer.problem);
}

export { writeNoteMapFile } from "../api/note-map-file.ts";
export type { KeptMap, MapReading, OpenProject, Problem, ProjectCard } from "../api/wire.ts";
export { LARGEST_UPLOAD_BYTES } from "../api/wire.ts";
