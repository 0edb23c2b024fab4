import { sha256 } from "@noble/hashes/sha2.js";
import { bytesToHex } from "@noble/hashes/utils.js";
import { Refusal } from "../core/refusal";

/** A file to be had from the server, as it is offered. */
export interface Wanted {
  address: string;
  bytes: number;
  sha256: string;
}

/** How often a file that breaks off goes on by itself, and how long it waits before, ms. */
const TRIES = 4;
const PAUSE_MS = 500;

/** What is there of a file. */
interface Begun {
  parts: Uint8Array<ArrayBuffer>[];
  bytes: number;
}

/** What came of files that were stopped or broke off, by checksum: asked for again they go on. One that is on its way is not among them. */
const left = new Map<string, Begun>();

/**
 * A file whole and as it was offered, by its checksum. One that breaks off goes on from where it was; what came stays for the next time.
 * @param onBytes hears how many bytes are there @throws Refusal where it cannot be had, and what the signal was aborted for
 */
export async function fetchFile(wanted: Wanted, signal: AbortSignal, onBytes: (bytes: number) => void, pauseMs = PAUSE_MS): Promise<Blob> {
  const there = left.get(wanted.sha256) ?? { parts: [], bytes: 0 };
  left.delete(wanted.sha256);
  for (let tries = 1; there.bytes < wanted.bytes; tries++) {
    await receive(wanted, there, signal, onBytes).catch(() => undefined);
    if (there.bytes >= wanted.bytes) break;
    if (!signal.aborted && tries < TRIES) await new Promise((go) => setTimeout(go, pauseMs));
    if (!signal.aborted && tries < TRIES) continue;
    left.set(wanted.sha256, there);
    signal.throwIfAborted();
    throw new Refusal("notLoaded", "going.demo");
  }
  const hash = sha256.create();
  for (const part of there.parts) hash.update(part);
  if (bytesToHex(hash.digest()) !== wanted.sha256) throw new Refusal("notLoaded", "going.demo");
  return new Blob(there.parts);
}

/** Adds what comes to what is there. */
async function receive({ address, bytes, sha256: sum }: Wanted, there: Begun, signal: AbortSignal, onBytes: (bytes: number) => void): Promise<void> {
  // a range holds for the very file that was begun
  const headers: Record<string, string> = there.bytes > 0 ? { range: `bytes=${there.bytes}-`, "if-range": `"${sum}"` } : {};
  const answer = await fetch(address, { headers, signal });
  if (!answer.ok || !answer.body) throw new Error(`${answer.status}`);
  if (answer.status !== 206) Object.assign(there, { parts: [], bytes: 0 });
  for (const reader = answer.body.getReader(); ;) {
    const { done, value } = await reader.read();
    if (done) return;
    there.parts.push(value);
    there.bytes += value.length;
    onBytes(Math.min(there.bytes, bytes));
    // more than was offered is not what was offered
    if (there.bytes > bytes) return reader.cancel();
  }
}
