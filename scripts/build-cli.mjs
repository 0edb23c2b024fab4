// Bundles the command line into build/marsh.mjs where its sources are newer.
import { existsSync, readdirSync, statSync } from "node:fs";
import { dirname, join } from "node:path";
import { fileURLToPath } from "node:url";
import { build } from "esbuild";

const root = join(dirname(fileURLToPath(import.meta.url)), "..");
process.chdir(root);
const newest = (folder) =>
  Math.max(
    ...readdirSync(folder, { withFileTypes: true }).map((e) => (e.isDirectory() ? newest(join(folder, e.name)) : statSync(join(folder, e.name)).mtimeMs)),
  );
const target = "build/marsh.mjs";
if (!existsSync(target) || statSync(target).mtimeMs < newest("src")) {
  await build({
    entryPoints: ["src/cli/main.ts"],
    bundle: true,
    platform: "node",
    format: "esm",
    target: "node20",
    outfile: target,
    logLevel: "error",
    banner: {
      js: 'import { createRequire as __createRequire } from "node:module"; import { fileURLToPath as __toPath } from "node:url"; const require = __createRequire(import.meta.url); const __filename = __toPath(import.meta.url); const __dirname = __filename.replace(/\\/[^/]*$/, "");',
    },
  });
}
