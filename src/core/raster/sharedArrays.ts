/** Sixteen-bit samples that other threads may read without a copy, where the host has shared memory. */
export function sharedU16(length: number): Uint16Array {
  return typeof SharedArrayBuffer === "undefined" ? new Uint16Array(length) : new Uint16Array(new SharedArrayBuffer(length * 2));
}
