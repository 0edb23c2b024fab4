import { LUMINANCE } from "../../../core/color/primaries";
import { levelOfSide, sizeAtLevel, type Rectangle } from "../../../core/geometry/rectangle";
import { findLamps, type FoundLamp } from "../../../core/light/findLamps";
import { GLOW_BEYOND, measureGlow, type MeasuredSpread } from "../../../core/light/glow";
import { lampRadiusPx, type Lamp } from "../../../core/light/lamp";
import { median } from "../../../core/numeric/statistics";
import type { PlateRecord } from "../../../document/records/plateTypes";
import { cameraOf, sceneryOf } from "../../../document/seatGeometry";
import type { BarePlate } from "../seat/barePlate";
import { lampOnPlate } from "./lampOnPlate";

/** Longest side that a plate is looked at in for its lamps, samples, and for the light on its ground. */
const LAMP_SIDE = 960;
const GROUND_SIDE = 320;
/** Radius of a lamp as its glow is looked at, samples. */
const GLOW_RADIUS = 6;
/** What ground and grey walls throw back of the light on them. Common practice: a grey card. */
const GREY = 0.18;
/** Light taken for none. */
const DARKEST = 1e-6;

/** What shines in a plate, px of it. */
export function lampsIn(plate: BarePlate): FoundLamp[] {
  const { level, rect, light } = seen(plate, LAMP_SIDE);
  const up = (v: number) => (v + 0.5) * 2 ** level - 0.5;
  return findLamps({ data: light, width: rect.width, height: rect.height }).map((l) => ({ ...l, x: up(l.x), y: up(l.y), radius: l.radius * 2 ** level }));
}

/** Light on a white surface of a plate, EV over white, by how bright its ground is; of all of it where no ground shows. */
export function ambientOf(plate: BarePlate, record: PlateRecord): number {
  const { level, rect, light } = seen(plate, GROUND_SIDE);
  const scenery = sceneryOf(record, plate);
  const px = (v: number) => (v + 0.5) * 2 ** level - 0.5;
  const ground: number[] = [];
  for (let y = 0; y < rect.height; y++) {
    for (let x = 0; x < rect.width; x++) {
      const shown = scenery.at(px(x), px(y));
      if (shown && shown.stood?.surface.is !== "water") ground.push(light[y * rect.width + x]);
    }
  }
  return Math.max(-16, Math.min(4, Math.log2(Math.max(DARKEST, median(ground.length ? ground : light)) / GREY)));
}

/** How far the light of a lamp that a plate shows spreads in it; null where that does not tell. */
export function glowIn(plate: BarePlate, record: PlateRecord, lamp: Lamp): MeasuredSpread | null {
  const radius = lampRadiusPx(cameraOf(record, plate), lamp);
  const level = Math.max(0, Math.floor(Math.log2(radius / GLOW_RADIUS)));
  const scale = 2 ** level;
  const reach = Math.ceil((GLOW_BEYOND * radius) / scale) + 2;
  const [x, y] = [(lamp.x + 0.5) / scale - 0.5, (lamp.y + 0.5) / scale - 0.5];
  const { width, height } = sizeAtLevel(plate.width, plate.height, level);
  const [x0, y0] = [Math.max(0, Math.floor(x) - reach), Math.max(0, Math.floor(y) - reach)];
  const rect = { x: x0, y: y0, width: Math.min(width, Math.ceil(x) + reach) - x0, height: Math.min(height, Math.ceil(y) + reach) - y0 };
  if (rect.width < 2 || rect.height < 2) return null;
  const planes = plate.read(level, rect);
  const lightAt = (u: number, v: number) => {
    const [i, j] = [Math.round(u) - rect.x, Math.round(v) - rect.y];
    if (i < 0 || j < 0 || i >= rect.width || j >= rect.height) return null;
    return planes.map((plane) => plane[j * rect.width + i]);
  };
  return measureGlow(x, y, radius / scale, lightAt, LUMINANCE);
}

/** Parts of the ground by how much of a lamp's light falls on them, and the fewest samples of one. */
const PARTS = 12;
const FEWEST = 20;
/** The lamp's light has to explain that much of how bright these are, and to be that much of what is there where it is strongest. */
const LEAST_TOLD = 0.6;
const LEAST_SHARE = 0.15;

/**
 * How strong a lamp is that a plate shows, EV of a white surface a metre away, by how the ground gets darker away from it: light = grey (ambient + lamp); null where that does not tell.
 * @returns light of all else as well, which is what the lamp's is told against
 */
export function strengthIn(plate: BarePlate, record: PlateRecord, lamp: Lamp): { ev: number; ambientEv: number } | null {
  const { level, rect, light } = seen(plate, GROUND_SIDE);
  const falls = lampOnPlate({ inputs: plate }, record, { ...lamp, ev: 0 }, level, rect);
  const lit = [...falls.keys()].filter((i) => falls[i] > 0).sort((a, b) => falls[a] - falls[b]);
  const each = Math.floor(lit.length / PARTS);
  if (each < FEWEST) return null;
  const parts = Array.from({ length: PARTS }, (_, p) => lit.slice(p * each, (p + 1) * each)).map((part) => ({
    x: median(part.map((i) => falls[i])),
    y: median(part.map((i) => light[i])),
  }));
  const [mx, my] = [parts.reduce((s, p) => s + p.x, 0) / PARTS, parts.reduce((s, p) => s + p.y, 0) / PARTS];
  const [xx, xy, yy] = parts.reduce(([a, b, c], p) => [a + (p.x - mx) ** 2, b + (p.x - mx) * (p.y - my), c + (p.y - my) ** 2], [0, 0, 0]);
  const slope = xy / xx;
  const rest = my - slope * mx;
  const told = yy > 0 ? xy ** 2 / (xx * yy) : 0;
  const strongest = parts[PARTS - 1].x;
  if (!(slope > 0) || told < LEAST_TOLD || slope * strongest < LEAST_SHARE * (slope * strongest + Math.max(0, rest))) return null;
  const grey = GREY;
  return { ev: Math.log2(slope / grey), ambientEv: Math.log2(Math.max(DARKEST, rest) / grey) };
}

/** Luminance of all of a plate at a level. */
function seen(plate: BarePlate, side: number): { level: number; rect: Rectangle; light: Float32Array } {
  const level = Math.max(0, levelOfSide(plate, side));
  const rect = { x: 0, y: 0, ...sizeAtLevel(plate.width, plate.height, level) };
  const planes = plate.read(level, rect);
  return { level, rect, light: planes[0].map((_, i) => LUMINANCE.reduce((sum, w, c) => sum + w * planes[c][i], 0)) };
}
