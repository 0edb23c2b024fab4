// Bundles the command line into build/marsh.mjs where its sources are newer.
import { existsSync, statSync } from "node:fs";
import { dirname, join } from "node:path";
import { fileURLToPath } from "node:url";
import { build } from "esbuild";
import { NODE_BUNDLE, newestOf } from "./node-bundle.mjs";

process.chdir(join(dirname(fileURLToPath(import.meta.url)), ".."));
const target = "build/marsh.mjs";
if (!existsSync(target) || statSync(target).mtimeMs < newestOf("src")) await build({ ...NODE_BUNDLE, entryPoints: ["src/cli/main.ts"], outfile: target });
