/** Bytes of all typed arrays that plain objects and lists hold. */
export function bytesHeld(value: unknown, depth = 6): number {
  if (ArrayBuffer.isView(value)) return value.byteLength;
  if (typeof value !== "object" || value === null || depth === 0) return 8;
  return Object.values(value).reduce((sum: number, v) => sum + bytesHeld(v, depth - 1), 64);
}
