import { message, type Message } from "../messages/message";
import { accessSync, closeSync, constants, existsSync, openSync, renameSync, rmSync, statSync, writeSync } from "node:fs";
import { dirname } from "node:path";
import { Refusal } from "../core/refusal";

/** Looks before any work begins. @throws Refusal where a file could not be written */
export function checkWritable(path: string): void {
  const folder = dirname(path);
  const refused = (why: Message) => new Refusal("notWritable", message("cli.notWritable", { path, why }));
  if (!existsSync(folder)) throw refused(message("cli.noFolder", { folder }));
  try {
    accessSync(folder, constants.W_OK);
  } catch {
    throw refused(message("cli.folderLocked", { folder }));
  }
  if (existsSync(path) && statSync(path).isDirectory()) throw refused(message("cli.isFolder", {}));
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
