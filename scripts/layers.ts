import { readdirSync, readFileSync } from "node:fs";
import path from "node:path";

/** A part of the code: a file, or those of a folder that have no layer of their own. */
export interface Layer {
  readonly path: string;
  /** The paths of the layers it may import from, types included. With `src/core`, all of the core. */
  readonly uses: readonly string[];
}

const SHOWN = ["src/store", "src/components", "src/core"];

/** Who may import whom. From top to bottom: a layer uses only what stands below it. What it does not list it may not use. */
export const LAYERS: readonly Layer[] = [
  { path: "app", uses: ["src/features", "src/components", "src/server", "src/api"] },
  ...["bench", "song", "grooves", "patterns", "messages", "notemaps", "shelf"].map((screen) => ({
    path: `src/features/${screen}`,
    uses: ["src/features/page", ...SHOWN],
  })),
  { path: "src/features/page", uses: ["src/store", "src/components"] },
  { path: "src/components", uses: ["src/core"] },
  { path: "src/store", uses: ["src/workers", "src/audio", "src/standin", "src/api", "src/core"] },
  { path: "src/workers", uses: ["src/audio", "src/standin", "src/core"] },
  { path: "src/audio", uses: ["src/core"] },
  { path: "src/server", uses: ["src/api", "src/core"] },
  { path: "src/cli", uses: ["src/standin", "src/api", "src/core"] },
  { path: "src/api", uses: ["src/core"] },
  { path: "src/standin", uses: ["src/core"] },
  core("tempo", ["commands", "study", "document", "time"]),
  core("record", ["commands", "document", "time"]),
  core("song", ["file", "pattern", "treat.ts", "chance.ts", "groove", "smf", "document", "remember.ts", "time"]),
  core("pattern", ["smf", "document", "time"]),
  core("messages", ["file", "smf", "document", "time"]),
  core("overview", ["study", "document", "time"]),
  core("chore", [
    "commands",
    "sift",
    "phrase.ts",
    "dynamics",
    "humanize.ts",
    "document",
    "limit.ts",
    "json-shape.ts",
    "time",
  ]),
  core("file", ["treat.ts", "chance.ts", "humanize.ts", "commands", "notemap", "smf", "limit.ts", "document", "time"]),
  core("commands", ["treat.ts", "extent.ts", "limit.ts", "study", "notemap", "document", "time"]),
  core("groove", ["groove/lay-on.ts", "sift", "notemap", "smf", "humanize.ts", "document", "time"]),
  core("sift", [
    "treat.ts",
    "timing",
    "dynamics",
    "phrase.ts",
    "document",
    "limit.ts",
    "json-shape.ts",
    "ordinal.ts",
    "time",
  ]),
  core("treat.ts", ["groove/lay-on.ts", "timing", "dynamics", "humanize.ts", "document", "remember.ts", "time"]),
  core("groove/lay-on.ts", ["timing", "document", "remember.ts", "time"]),
  core("study", ["timing", "dynamics", "extent.ts", "document", "remember.ts", "ordinal.ts", "time"]),
  core("timing", ["dynamics", "document", "remember.ts", "time"]),
  core("dynamics", ["humanize.ts", "document", "remember.ts", "time"]),
  core("notemap", ["smf", "document", "time"]),
  core("phrase.ts", ["limit.ts", "document", "time"]),
  core("recipe.ts", ["ordinal.ts", "document"]),
  core("chance.ts", ["humanize.ts", "document"]),
  core("humanize.ts", ["document"]),
  core("smf", []),
  core("document", ["limit.ts", "json-shape.ts", "remember.ts", "time"]),
  core("time", []),
  core("limit.ts", []),
  core("json-shape.ts", []),
  core("remember.ts", []),
  core("ordinal.ts", []),
  core("extent.ts", []),
];

function core(name: string, uses: readonly string[]): Layer {
  return { path: `src/core/${name}`, uses: uses.map((used) => `src/core/${used}`) };
}

export interface Source {
  /** From the root of the project, as `src/core/treat.ts`. */
  readonly file: string;
  readonly text: string;
}

export interface Fault {
  readonly file: string;
  /** From 1. */
  readonly line: number;
  readonly rule: string;
}

interface Import {
  readonly line: number;
  readonly target: string;
}

/** Every source of the application, without tests and what serves only them. */
export function readSources(): readonly Source[] {
  return ["app", "src"]
    .flatMap((folder) => readdirSync(folder, { recursive: true, encoding: "utf8" }).map((name) => `${folder}/${name}`))
    .filter((file) => /\.tsx?$/.test(file) && !/\.test\.tsx?$|\.d\.ts$/.test(file) && !file.includes("/testing/"))
    .toSorted()
    .map((file) => ({ file, text: readFileSync(file, "utf8") }));
}

/** Imports that the layers do not allow, and files that belong to none. The core imports no packages. */
export function faultsOf(sources: readonly Source[]): readonly Fault[] {
  return sources.flatMap((source) => {
    const layer = layerOf(source.file);
    if (!layer) return [{ file: source.file, line: 1, rule: "belongs to no layer: give it one in scripts/layers.ts" }];
    return importsOf(source).flatMap(({ line, target }) => {
      const rule = ruleAgainst(layer, source.file, target);
      return rule === null ? [] : [{ file: source.file, line, rule }];
    });
  });
}

/** Edges that are allowed and that nothing needs. */
export function unusedEdges(sources: readonly Source[]): readonly string[] {
  const used = sources.flatMap((source) =>
    importsOf(source).map(({ target }) => [layerOf(source.file), target] as const),
  );
  return LAYERS.flatMap((layer) =>
    layer.uses
      .filter((path) => !used.some(([from, target]) => from === layer && isWithin(target, path)))
      .map((path) => `${layer.path} → ${path}`),
  );
}

/**
 * The layers as a diagram: with `within`, those under that path, and else the whole with the core as one. What follows from other edges
 * is left out.
 */
export function diagram(within?: string): string {
  const drawn = LAYERS.filter(({ path }) => (within ? path.startsWith(`${within}/`) : !path.startsWith("src/core/")));
  const nameOf = (path: string) => {
    if (within) return path.slice(within.length + 1);
    return path.replace(/^src\//, "").replace(/^features\/.*/, "features");
  };
  const usesOf = new Map(drawn.map(({ path, uses }) => [nameOf(path), uses.map(nameOf)]));
  const reaches = (from: string, to: string): boolean =>
    (usesOf.get(from) ?? []).some((used) => used === to || reaches(used, to));
  const edges = [...usesOf].flatMap(([name, uses]) =>
    uses
      .filter((used) => !uses.some((other) => other !== used && reaches(other, used)))
      .map((used) => `  ${name} --> ${used}`),
  );
  return ["```mermaid", "flowchart TD", ...edges, "```"].join("\n");
}

function layerOf(file: string): Layer | undefined {
  return LAYERS.filter(({ path }) => isWithin(file, path)).sort((a, b) => b.path.length - a.path.length)[0];
}

function isWithin(file: string, path: string): boolean {
  return file === path || file.startsWith(`${path}/`);
}

function ruleAgainst(layer: Layer, file: string, target: string): string | null {
  if (layerOf(target) === layer) return null;
  if (!/^(src|app)\//.test(target)) {
    return file.startsWith("src/core/") ? `imports “${target}”: the core imports only the core` : null;
  }
  if (layer.uses.some((path) => isWithin(target, path))) return null;
  return `imports ${target}: ${layer.path} may use ${layer.uses.join(", ") || "nothing else"}`;
}

const IMPORTS =
  /^(?:import|export|\})[^;"]*?from "([^"]+)"|^import "([^"]+)"|\bimport\("([^"]+)"\)|new URL\("([^"]+)", import\.meta/gm;

function importsOf(source: Source): readonly Import[] {
  return [...source.text.matchAll(IMPORTS)].map((match) => {
    const name = match.slice(1).find((group) => group !== undefined)!;
    const isOurs = name.startsWith(".");
    return {
      line: source.text.slice(0, match.index + match[0].length).split("\n").length,
      target: isOurs ? path.posix.join(path.posix.dirname(source.file), name) : name,
    };
  });
}
