// Runs a built command: `node scripts/with-build.mjs backup-command backup …`
import { join } from "node:path";
import { build, install, root, run } from "./setup.mjs";

const [name, ...rest] = process.argv.slice(2);
install();
build();
run("The command", process.execPath, [join(root, `build/${name}.mjs`), ...rest]);
