import { readFileSync, writeFileSync } from "node:fs";
import { MidiFileError } from "../core/smf/index.ts";
import { type CleanReport, cleanTake } from "./clean.ts";
import { type Findings, findLike } from "./find.ts";
import { inspectTake } from "./inspect.ts";
import { recordPart } from "./record.ts";
import { parseCommand, UsageError } from "./usage.ts";

/** Exit codes: what a script can act on. */
const EXIT = { done: 0, wrongUsage: 2, unreadable: 3 } as const;

function main(words: readonly string[]): number {
  const command = parseCommand(words);
  if (command.kind === "help") {
    console.log(command.text);
    return EXIT.done;
  }
  const bytes = new Uint8Array(readFileSync(command.inputPath));
  if (command.kind === "inspect") {
    console.log(inspectTake(bytes, command.isJson));
    return EXIT.done;
  }
  if (command.kind === "find") {
    const found = findLike(bytes, command.settings);
    console.log(command.isJson ? JSON.stringify(found, null, 2) : findingLines(found));
    return EXIT.done;
  }
  if (command.kind === "record") {
    const { take, report } = recordPart(bytes, command.settings);
    writeFileSync(command.outputPath, take);
    if (command.reportPath) writeFileSync(command.reportPath, `${JSON.stringify(report, null, 2)}\n`);
    const left = report.notPlayed > 0 ? `, ${report.notPlayed} strokes that no pass plays left out (add “rest”)` : "";
    console.log(`Recorded ${report.hitCount} hits in ${report.passes.length} passes${left}: ${command.outputPath}`);
    return EXIT.done;
  }
  const { cleaned, report } = cleanTake(bytes, command.settings);
  writeFileSync(command.outputPath, cleaned);
  if (command.reportPath) writeFileSync(command.reportPath, `${JSON.stringify(report, null, 2)}\n`);
  console.log(
    `${openingWords(report.opening)}Moved ${report.movedHits} of ${report.hitCount} hits, ${report.flaggedHits} doubtful${faultWords(report.faults)}: ${command.outputPath}`,
  );
  return EXIT.done;
}

try {
  process.exitCode = main(process.argv.slice(2));
} catch (error) {
  if (error instanceof UsageError) {
    console.error(`${error.message}\nTry: npm run -s marten -- --help`);
    process.exitCode = EXIT.wrongUsage;
  } else if (error instanceof MidiFileError) {
    console.error(`${error.message} (byte ${error.byteOffset}) ${error.remedy}`);
    process.exitCode = EXIT.unreadable;
  } else if (error instanceof Error && "syscall" in error) {
    console.error(`${error.message}. Check the path and that you may use it.`);
    process.exitCode = EXIT.unreadable;
  } else {
    throw error;
  }
}

function findingLines({ results, unreadable }: Findings): string {
  const lines = results.map(({ path, firstBar, bars, likeness, differs }) => {
    const where = bars === 1 ? `bar ${firstBar}` : `bars ${firstBar}–${firstBar + bars - 1}`;
    return `${Math.round(likeness * 100)} %  ${path}, ${where}${differs.length > 0 ? `  (${differs.slice(0, 3).join("; ")})` : ""}`;
  });
  return [...lines, ...unreadable.map(({ path, problem }) => `not read: ${path}: ${problem}`)].join("\n");
}

function openingWords(opening: CleanReport["opening"]): string {
  return opening ? `Bars 1 to ${opening.bars} fit no beat, and stay as they were played.\n` : "";
}

function faultWords(faults: readonly { readonly isLeftOut: boolean }[]): string {
  if (faults.length === 0) return "";
  const verb = faults.length === 1 ? "likely double trigger or crosstalk" : "likely double triggers or crosstalk";
  return `, ${faults.length} ${verb}${faults[0]?.isLeftOut ? ", muted" : ""}`;
}
