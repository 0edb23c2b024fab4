import { viewOf } from "../bytes";

export interface DirectoryFacts {
  width: number;
  height: number;
  /** TIFF 6.0 tag 262; 32803 colour filter array, 34892 linear raw (DNG) */
  photometric: number | null;
  /** TIFF 6.0 tag 259; 6 is the JPEG of version 6.0, met today only as the preview of sensor data */
  compression: number;
  /** byte after the last strip or tile */
  dataEnd: number;
}

const SIZES: Record<number, number> = { 1: 1, 3: 2, 4: 4, 13: 4 };
/** Nested directories of one; cameras write a handful. */
const MOST_NESTED = 32;

/**
 * What every directory of a TIFF-based file says, chained and nested, without reading pixels. Damaged parts are passed over.
 * @see TIFF 6.0, section 2; TIFF/EP (ISO 12234-2) for nested directories
 */
export function scanDirectories(bytes: Uint8Array): { directories: DirectoryFacts[]; isDng: boolean } {
  const view = viewOf(bytes);
  const little = bytes[0] === 0x49;
  const directories: DirectoryFacts[] = [];
  let isDng = false;
  const waiting = bytes.length >= 8 ? [view.getUint32(4, little)] : [];
  const seen = new Set<number>();
  while (waiting.length > 0 && seen.size < 32) {
    const at = waiting.shift()!;
    if (at === 0 || seen.has(at) || at + 2 > bytes.length) continue;
    seen.add(at);
    const count = view.getUint16(at, little);
    if (at + 2 + count * 12 + 4 > bytes.length) continue;
    const values = (tag: number): number[] => {
      for (let i = 0; i < count; i++) {
        const p = at + 2 + i * 12;
        if (view.getUint16(p, little) !== tag) continue;
        const type = view.getUint16(p + 2, little);
        const size = SIZES[type];
        const n = Math.min(view.getUint32(p + 4, little), 1 << 20);
        const place = !size || size * n <= 4 ? p + 8 : view.getUint32(p + 8, little);
        if (!size || place + size * n > bytes.length) return [];
        return Array.from({ length: n }, (_, k) =>
          size === 1 ? bytes[place + k] : size === 2 ? view.getUint16(place + k * 2, little) : view.getUint32(place + k * 4, little),
        );
      }
      return [];
    };
    isDng ||= values(50706).length === 4;
    const ends = (offsets: number[], sizes: number[]) => offsets.reduce((end, offset, i) => Math.max(end, offset + (sizes[i] ?? 0)), 0);
    directories.push({
      width: values(256)[0] ?? 0,
      height: values(257)[0] ?? 0,
      photometric: values(262)[0] ?? null,
      compression: values(259)[0] ?? 1,
      dataEnd: Math.max(ends(values(273), values(279)), ends(values(324), values(325))),
    });
    waiting.push(...values(330).slice(0, MOST_NESTED), view.getUint32(at + 2 + count * 12, little));
  }
  return { directories, isDng };
}
