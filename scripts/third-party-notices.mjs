// Writes THIRD-PARTY-NOTICES from the packages that ship with the application; --check compares instead.
import { existsSync, readdirSync, readFileSync, writeFileSync } from "node:fs";
import { dirname, join } from "node:path";
import { fileURLToPath } from "node:url";

process.chdir(join(dirname(fileURLToPath(import.meta.url)), ".."));
const lock = JSON.parse(readFileSync("package-lock.json", "utf8"));
const REFUSED = /\b(AGPL|GPL-[23])/;
const rows = [];
for (const [path, entry] of Object.entries(lock.packages)) {
  // what ships: run-time packages that are not other systems' optional binaries
  if (!path || entry.dev || entry.devOptional || entry.optional) continue;
  const name = entry.name ?? path.replace(/^.*node_modules\//, "");
  const folder = join(path);
  const license = entry.license ?? (existsSync(folder) ? JSON.parse(readFileSync(join(folder, "package.json"), "utf8")).license : undefined) ?? "see its files";
  if (REFUSED.test(String(license)) && !/ OR /.test(String(license))) throw new Error(`${name} is under ${license}, which may not ship.`);
  const text = existsSync(folder) ? readdirSync(folder).find((f) => /^(licen[sc]e|copying)/i.test(f)) : undefined;
  const copyright = text
    ? (readFileSync(join(folder, text), "utf8")
        .match(/^.*copyright.*$/im)?.[0]
        .trim() ?? "")
    : "";
  rows.push(`${name} ${entry.version}\n  ${typeof license === "string" ? license : JSON.stringify(license)}${copyright ? `\n  ${copyright}` : ""}`);
}
const unique = [...new Set(rows)];
const text = `Third-party software that ships with Marsh, from the lock file. Each package's own licence text lies in node_modules.\nThe fonts IBM Plex Sans and IBM Plex Sans Condensed are under the SIL Open Font License 1.1.\nThe JPEG coder contains libjpeg-turbo (BSD-style and IJG licences), the WebP decoder libwebp (BSD), the AVIF decoder libavif and libaom (BSD).\nThe camera raw decoder contains LibRaw, taken under the CDDL 1.0 (of LGPL 2.1 or CDDL 1.0) and served unmodified as files of its own, raw.js and raw.wasm; no further demosaic packs.\nThe profile reader contains Little CMS (MIT).\n\n${unique.sort().join("\n")}\n`;
if (process.argv.includes("--check")) {
  if (!existsSync("THIRD-PARTY-NOTICES") || readFileSync("THIRD-PARTY-NOTICES", "utf8") !== text) {
    console.error("THIRD-PARTY-NOTICES is out of date: run node scripts/third-party-notices.mjs");
    process.exit(1);
  }
} else writeFileSync("THIRD-PARTY-NOTICES", text);
