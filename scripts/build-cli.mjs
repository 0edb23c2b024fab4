// Bundles the command line into build/marsh.mjs where its sources are newer.
import { existsSync, statSync } from "node:fs";
import { dirname, join } from "node:path";
import { fileURLToPath } from "node:url";
import { bundle, newestOf } from "./node-bundle.mjs";

process.chdir(join(dirname(fileURLToPath(import.meta.url)), ".."));
const target = "build/marsh.mjs";
if (!existsSync(target) || statSync(target).mtimeMs < newestOf("src")) await bundle("src/cli/main.ts", target);
