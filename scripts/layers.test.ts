import { readFileSync } from "node:fs";
import { describe, expect, it } from "vitest";
import { diagram, faultsOf, LAYERS, readSources, unusedEdges } from "./layers.ts";

describe("layers", () => {
  const sources = readSources();

  it("are kept by every file", () => {
    expect(sources.length).toBeGreaterThan(400);
    expect(faultsOf(sources).map(({ file, line, rule }) => `${file}:${line} ${rule}`)).toEqual([]);
  });

  it("stand one below the other, and allow nothing that is not used", () => {
    LAYERS.forEach(({ path, uses }, index) => {
      for (const used of uses) {
        const below = LAYERS.findLastIndex((layer) => layer.path === used || layer.path.startsWith(`${used}/`));
        expect(below, `${path} → ${used}`).toBeGreaterThan(index);
      }
    });
    expect(unusedEdges(sources)).toEqual([]);
  });

  it("name file, line and rule of what breaks them, in each way of importing", () => {
    const broken = (file: string, text: string) => faultsOf([{ file, text }]);
    const typeOnly = 'import {\n  type Song,\n  songOf,\n} from "../song/index.ts";\n';
    expect(broken("src/core/time/bars.ts", typeOnly)).toEqual([
      {
        file: "src/core/time/bars.ts",
        line: 4,
        rule: "imports src/core/song/index.ts: src/core/time may use nothing else",
      },
    ]);
    expect(broken("src/core/time/bars.ts", 'import { z } from "zustand";')[0]!.rule).toContain("only the core");
    expect(broken("src/store/a.ts", 'const a = await import("../server/b.ts");')).toHaveLength(1);
    expect(broken("src/store/a.ts", 'export { b } from "../features/bench/b.ts";')).toHaveLength(1);
    expect(broken("src/features/song/a.tsx", 'import "../bench/b.ts";')).toHaveLength(1);
    expect(broken("src/workers/a.ts", 'new Worker(new URL("../cli/b.ts", import.meta.url));')).toHaveLength(1);
    expect(broken("src/new/a.ts", "")[0]!.rule).toContain("belongs to no layer");
    expect(broken("src/features/song/a.tsx", 'import { useState } from "react";')).toEqual([]);
  });

  it("are drawn in the guide for whoever comes next as they are", () => {
    const guide = readFileSync("CONTRIBUTING.md", "utf8");
    expect(guide).toContain(diagram());
    expect(guide).toContain(diagram("src/core"));
  });
});
