import { accessSync, closeSync, constants, existsSync, openSync, renameSync, rmSync, statSync, writeSync } from "node:fs";
import { dirname } from "node:path";
import { Refusal } from "../core/refusal";

/** Looks before any work begins. @throws Refusal where a file could not be written */
export function checkWritable(path: string): void {
  const folder = dirname(path);
  const refused = (why: string) => new Refusal("notWritable", `${path} cannot be written: ${why}.`);
  if (!existsSync(folder)) throw refused(`there is no folder ${folder}`);
  try {
    accessSync(folder, constants.W_OK);
  } catch {
    throw refused(`the folder ${folder} may not be written to`);
  }
  if (existsSync(path) && statSync(path).isDirectory()) throw refused("it is a folder");
}

/** Writes a file in parts under another name first, so that a broken run never leaves half a file in its place. */
export function writeParts(path: string, parts: Uint8Array[]): void {
  const draft = `${path}.part`;
  const fd = openSync(draft, "w");
  try {
    for (const part of parts) writeSync(fd, part);
  } catch (error) {
    closeSync(fd);
    rmSync(draft, { force: true });
    throw error;
  }
  closeSync(fd);
  renameSync(draft, path);
}
