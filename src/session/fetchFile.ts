import { sha256 } from "@noble/hashes/sha2.js";
import { bytesToHex } from "@noble/hashes/utils.js";
import { Refusal } from "../core/refusal";

/** A file to be had from the server, as it is offered. */
export interface Wanted {
  address: string;
  bytes: number;
  sha256: string;
}

/** How often a download that broke off goes on by itself, and how long it waits before, ms. */
const TRIES = 4;
const PAUSE_MS = 500;

/** What came of downloads that were stopped or broke off, by checksum: asked for again they go on. */
const begun = new Map<string, Uint8Array<ArrayBuffer>[]>();

const lengthOf = (parts: Uint8Array[]) => parts.reduce((sum, p) => sum + p.length, 0);

/**
 * A file whole and as it was offered, by its checksum. One that breaks off goes on from where it was; what came stays for the next time.
 * @param onBytes hears how many bytes are there @throws Refusal where it cannot be had
 */
export async function fetchFile(wanted: Wanted, signal: AbortSignal, onBytes: (bytes: number) => void, pauseMs = PAUSE_MS): Promise<Blob> {
  const parts = begun.get(wanted.sha256) ?? [];
  begun.set(wanted.sha256, parts);
  for (let tries = 1; lengthOf(parts) < wanted.bytes; tries++) {
    try {
      await receive(wanted, parts, signal, onBytes);
    } catch (error) {
      if (signal.aborted) throw error;
    }
    if (lengthOf(parts) >= wanted.bytes) break;
    if (tries === TRIES) throw new Refusal("notLoaded", "going.demo");
    await new Promise((go) => setTimeout(go, pauseMs));
    signal.throwIfAborted();
  }
  begun.delete(wanted.sha256);
  const hash = sha256.create();
  for (const part of parts) hash.update(part);
  if (bytesToHex(hash.digest()) !== wanted.sha256) throw new Refusal("notLoaded", "going.demo");
  return new Blob(parts);
}

/** Adds what comes to the parts that are there. */
async function receive(
  { address, bytes, sha256: sum }: Wanted,
  parts: Uint8Array<ArrayBuffer>[],
  signal: AbortSignal,
  onBytes: (bytes: number) => void,
): Promise<void> {
  const there = lengthOf(parts);
  // a range holds for the very file that was begun
  const headers: Record<string, string> = there > 0 ? { range: `bytes=${there}-`, "if-range": `"${sum}"` } : {};
  const answer = await fetch(address, { headers, signal });
  if (!answer.ok || !answer.body) throw new Error(`${answer.status}`);
  if (answer.status !== 206) parts.length = 0;
  for (const reader = answer.body.getReader(); ;) {
    const { done, value } = await reader.read();
    if (done) return;
    parts.push(value);
    const length = lengthOf(parts);
    onBytes(Math.min(length, bytes));
    if (length > bytes) throw new Error("more than was offered");
  }
}
