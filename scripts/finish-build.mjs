/**
 * What a build still needs once its pages are made: no source maps, a content security policy that names the scripts in the pages by their hashes, and the worker that
 * keeps the application for work without a network. Run after `next build`.
 */
import { createHash } from "node:crypto";
import { readdirSync, readFileSync, rmSync, writeFileSync } from "node:fs";
import { join } from "node:path";
import { build } from "esbuild";

const filesIn = (folder) =>
  readdirSync(folder, { withFileTypes: true, recursive: true })
    .filter((e) => e.isFile())
    .map((e) => join(e.parentPath ?? e.path, e.name));

const statics = filesIn(".next/static");
for (const file of statics) if (file.endsWith(".map")) rmSync(file);

// pages are made at build time, so the scripts in them are always the same
const pages = filesIn(".next/server/app").filter((f) => f.endsWith(".html"));
const hashes = new Set();
for (const page of pages) {
  for (const [, attributes, script] of readFileSync(page, "utf8").matchAll(/<script([^>]*)>([\s\S]*?)<\/script>/g)) {
    if (script && !/\ssrc=/.test(attributes)) hashes.add(`'sha256-${createHash("sha256").update(script).digest("base64")}'`);
  }
}
const MANIFEST = ".next/routes-manifest.json";
const manifest = JSON.parse(readFileSync(MANIFEST, "utf8"));
let named = 0;
for (const { headers } of manifest.headers) {
  for (const header of headers) {
    if (header.key !== "Content-Security-Policy") continue;
    header.value = header.value.replace(/'inline-scripts-by-hash'|'sha256-[^']+'(?: 'sha256-[^']+')*/, () => (named++, [...hashes].join(" ")));
  }
}
if (hashes.size === 0 || named === 0) throw new Error("The pages' scripts could not be named in the content security policy.");
writeFileSync(MANIFEST, JSON.stringify(manifest));

/** What the application needs to start and work by itself; demos come when they are opened. */
const assets = [
  "/",
  "/manifest.webmanifest",
  "/icon.svg",
  ...readdirSync("public/icons").map((f) => `/icons/${f}`),
  "/api/demos",
  ...statics
    .filter((f) => !f.endsWith(".map") && !/-(cyrillic|greek|vietnamese|latin-ext)/.test(f) && !f.endsWith(".woff"))
    .map((f) => f.replace(/^\.next\/static/, "/_next/static")),
  ...readdirSync("public/wasm").map((f) => `/wasm/${f}`),
  ...readdirSync("public/previews").map((f) => `/previews/${f}`),
];
const version = createHash("sha256");
version.update(readFileSync(".next/BUILD_ID"));
for (const f of readdirSync("public/wasm")) version.update(readFileSync(join("public/wasm", f)));
await build({
  entryPoints: ["src/workers/entries/offline.worker.ts"],
  outfile: "public/offline.js",
  bundle: true,
  minify: true,
  target: "es2022",
  format: "iife",
  define: { ASSETS: JSON.stringify(assets), VERSION: JSON.stringify(version.digest("hex").slice(0, 16)) },
});
