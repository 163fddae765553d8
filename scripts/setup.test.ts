import { spawnSync } from "node:child_process";
import { expect, it } from "vitest";

const saidBy = (code: string) =>
  spawnSync(
    process.execPath,
    ["--input-type=module", "-e", `import { run, say, sayAside } from "./scripts/setup.mjs"; ${code}`],
    {
      encoding: "utf8",
    },
  );

it("what is set up before a command goes to the errors, where its results are read by other programs", () => {
  const work = 'say("Installing."); run("It", process.execPath, ["-e", "console.log(1)"]);';
  expect(saidBy(`sayAside(); ${work}`)).toMatchObject({ status: 0, stdout: "", stderr: "· Installing.\n1\n" });
  expect(saidBy(work)).toMatchObject({ status: 0, stdout: "· Installing.\n1\n", stderr: "" });
});
