import { adaptation, D50_XYZ, rgbToXyz, xyzOfChromaticity, type Primaries } from "../../core/color/primaries";
import { multiply } from "../../core/geometry/matrix3";
import { asciiBytes, concatBytes } from "../bytes";

/**
 * A small version 4 display profile with the sRGB curve. @see ICC.1:2022, 7.2 (header), 8.4.3 (three-component matrix profile)
 * @param curve "srgb" or "linear"
 */
export function writeProfile(name: string, primaries: Primaries, curve: "srgb" | "linear"): Uint8Array {
  const chad = adaptation(xyzOfChromaticity(primaries.white), D50_XYZ);
  const m = multiply(chad, rgbToXyz(primaries));
  const trc = curve === "srgb" ? parametric([2.4, 1 / 1.055, 0.055 / 1.055, 1 / 12.92, 0.04045]) : concatBytes([asciiBytes("curv"), new Uint8Array(8)]);
  const tags: [string, Uint8Array][] = [
    ["desc", localized(name)],
    ["cprt", localized("No copyright, use freely")],
    ["wtpt", xyz([...D50_XYZ])],
    ["chad", concatBytes([asciiBytes("sf32"), new Uint8Array(4), ...chad.map(fixed)])],
    ["rXYZ", xyz([m[0], m[3], m[6]])],
    ["gXYZ", xyz([m[1], m[4], m[7]])],
    ["bXYZ", xyz([m[2], m[5], m[8]])],
    ["rTRC", trc],
    ["gTRC", trc],
    ["bTRC", trc],
  ];
  const start = 128 + 4 + tags.length * 12;
  const table = new Uint8Array(4 + tags.length * 12);
  const view = new DataView(table.buffer);
  view.setUint32(0, tags.length);
  const placed = new Map<Uint8Array, number>();
  const bodies: Uint8Array[] = [];
  let offset = start;
  tags.forEach(([signature, data], i) => {
    if (!placed.has(data)) {
      placed.set(data, offset);
      const padded = new Uint8Array(Math.ceil(data.length / 4) * 4);
      padded.set(data);
      bodies.push(padded);
      offset += padded.length;
    }
    table.set(asciiBytes(signature), 4 + i * 12);
    view.setUint32(8 + i * 12, placed.get(data)!);
    view.setUint32(12 + i * 12, data.length);
  });
  const header = new Uint8Array(128);
  const h = new DataView(header.buffer);
  h.setUint32(0, offset);
  h.setUint32(8, 0x04400000);
  header.set(asciiBytes("mntrRGB XYZ "), 12);
  [2026, 1, 1, 0, 0, 0].forEach((v, i) => h.setUint16(24 + i * 2, v));
  header.set(asciiBytes("acsp"), 36);
  D50_XYZ.forEach((v, i) => h.setInt32(68 + i * 4, Math.round(v * 65536)));
  return concatBytes([header, table, ...bodies]);
}

function fixed(v: number): Uint8Array {
  const bytes = new Uint8Array(4);
  new DataView(bytes.buffer).setInt32(0, Math.round(v * 65536));
  return bytes;
}

function xyz(v: number[]): Uint8Array {
  return concatBytes([asciiBytes("XYZ "), new Uint8Array(4), ...v.map(fixed)]);
}

function parametric([g, a, b, c, d]: number[]): Uint8Array {
  return concatBytes([asciiBytes("para"), new Uint8Array(4), Uint8Array.from([0, 3, 0, 0]), ...[g, a, b, c, d].map(fixed)]);
}

function localized(text: string): Uint8Array {
  const bytes = new Uint8Array(28 + text.length * 2);
  bytes.set(asciiBytes("mluc"));
  const view = new DataView(bytes.buffer);
  view.setUint32(8, 1);
  view.setUint32(12, 12);
  bytes.set(asciiBytes("enUS"), 16);
  view.setUint32(20, text.length * 2);
  view.setUint32(24, 28);
  for (let i = 0; i < text.length; i++) view.setUint16(28 + i * 2, text.charCodeAt(i));
  return bytes;
}
