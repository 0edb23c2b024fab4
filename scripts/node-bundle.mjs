// How sources become one file for Node.
import { readdirSync, statSync } from "node:fs";
import { join } from "node:path";

/** When anything in a folder was changed last, ms. */
export const newestOf = (folder) =>
  Math.max(
    ...readdirSync(folder, { withFileTypes: true }).map((e) => (e.isDirectory() ? newestOf(join(folder, e.name)) : statSync(join(folder, e.name)).mtimeMs)),
  );

const NODE_BUNDLE = {
  bundle: true,
  platform: "node",
  format: "esm",
  target: "node20",
  logLevel: "error",
  banner: {
    js: 'import { createRequire as __createRequire } from "node:module"; import { fileURLToPath as __toPath } from "node:url"; const require = __createRequire(import.meta.url); const __filename = __toPath(import.meta.url); const __dirname = __filename.replace(/\\/[^/]*$/, "");',
  },
};

/** Bundles a source with all that it imports. */
export async function bundle(source, target) {
  const { build } = await import("esbuild");
  await build({ ...NODE_BUNDLE, entryPoints: [source], outfile: target });
}
