import { closeSync, openSync, renameSync, rmSync, writeSync } from "node:fs";

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
