import { remember } from "../../core/numeric/remember";
import { sha256 as digest } from "@noble/hashes/sha2.js";
import { bytesToHex, utf8ToBytes } from "@noble/hashes/utils.js";

/** Content key of an operation: its name, version and parameters, which hold the keys of its inputs. */
export function contentKey(operation: string, version: number, parameters: unknown): string {
  return `${operation}-${hashOf([operation, version, parameters])}`;
}

/** Hash of plain JSON, 160 bits: short enough to be put together with others, long enough that no two things share one. */
export function hashOf(value: unknown): string {
  return bytesToHex(digest(utf8ToBytes(JSON.stringify(value)))).slice(0, 40);
}

/** The same of something that is never changed in place, as records are; each object is looked at once. */
export const hashOfFixed: (value: object) => string = remember(hashOf);

/** The same of bytes as they are. */
export const hashOfBytes = (bytes: Uint8Array): string => bytesToHex(digest(bytes)).slice(0, 40);

/** Checksum of a file. */
export async function sha256(bytes: Uint8Array): Promise<string> {
  return bytesToHex(new Uint8Array(await crypto.subtle.digest("SHA-256", bytes as Uint8Array<ArrayBuffer>)));
}
