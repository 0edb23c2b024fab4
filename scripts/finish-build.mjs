/**
 * What a build still needs once its pages are made: no source maps, a content security policy that names the scripts and styles in the pages by their hashes, and the
 * worker that keeps the application for work without a network. Run after `next build`.
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

const hashOf = (text) => `'sha256-${createHash("sha256").update(text).digest("base64")}'`;

/** Styles that React Aria puts into the page by itself, as its modules have them; the one value in them is an attribute's name. */
const ariaStyles = ["interactions/usePress", "overlays/usePreventScroll"].map((module) => {
  const source = readFileSync(`node_modules/react-aria/dist/private/${module}.mjs`, "utf8");
  const [, style] = /\.textContent = `([^`]+)`\.trim\(\)/.exec(source) ?? [];
  if (!style) throw new Error(`React Aria's ${module} has another style than was thought.`);
  return style.replace(/\$\{.*PRESSABLE_ATTRIBUTE\}/, "data-react-aria-pressable").trim();
});

// pages are made at build time, so the scripts and styles in them are always the same; components put their rules into an element that begins empty
const pages = filesIn(".next/server/app").filter((f) => f.endsWith(".html"));
const named = { scripts: new Set(), styles: new Set(["", ...ariaStyles].map(hashOf)) };
for (const page of pages) {
  const html = readFileSync(page, "utf8");
  for (const [, attributes, script] of html.matchAll(/<script([^>]*)>([\s\S]*?)<\/script>/g)) {
    if (script && !/\ssrc=/.test(attributes)) named.scripts.add(hashOf(script));
  }
  for (const [, style] of html.matchAll(/<style[^>]*>([\s\S]*?)<\/style>/g)) named.styles.add(hashOf(style));
}
const MANIFEST = ".next/routes-manifest.json";
const manifest = JSON.parse(readFileSync(MANIFEST, "utf8"));
for (const { headers } of manifest.headers) {
  for (const header of headers) {
    if (header.key !== "Content-Security-Policy") continue;
    for (const [kind, hashes] of Object.entries(named)) header.value = header.value.replace(`'inline-${kind}-by-hash'`, [...hashes].join(" "));
  }
}
const policies = JSON.stringify(manifest.headers);
if (policies.includes("-by-hash'") || [...named.scripts, ...named.styles].some((hash) => !policies.includes(hash)))
  throw new Error("What stands in the pages could not be named in the content security policy.");
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
  ...readdirSync("public/papers").map((f) => `/papers/${f}`),
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
