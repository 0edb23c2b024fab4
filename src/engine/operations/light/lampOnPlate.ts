import type { Size } from "../../../core/geometry/lens";
import type { Rectangle } from "../../../core/geometry/rectangle";
import { facing, shineOf, type Lamp } from "../../../core/light/lamp";
import { dot, type Vector3 } from "../../../core/panorama/camera";
import { sceneryOf } from "../../../document/seatGeometry";
import type { PlateRecord } from "../../../document/records/plateTypes";

/** Samples between places of the plate that are looked at first. */
const APART = 4;
const UP: Vector3 = [0, 1, 0];

/** How much of a lamp's light falls on the ground of a plate and on what was marked of it, px by px, over white. Water throws it elsewhere. */
export function lampOnPlate(job: { inputs: Size }, plate: PlateRecord, lamp: Lamp, level: number, rect: Rectangle): Float32Array {
  const scenery = sceneryOf(plate, job.inputs);
  const shine = shineOf(scenery.camera, lamp);
  const scale = 2 ** level;
  /** What falls there, and on what: a number for each surface, −1 the ground, −2 nothing. */
  const at = (x: number, y: number): { light: number; on: number } => {
    const shown = scenery.at((x + 0.5) * scale - 0.5, (y + 0.5) * scale - 0.5);
    if (!shown || shown.stood?.surface.is === "water") return { light: 0, on: -2 };
    const { towards, light, sine } = shine(shown.place);
    return { light: light * facing(dot(shown.stood?.normal ?? UP, towards), sine), on: shown.stood ? scenery.stood.indexOf(shown.stood) : -1 };
  };
  const out = new Float32Array(rect.width * rect.height);
  const corners = new Map<number, { light: number; on: number }>();
  const columns = Math.ceil((rect.x + rect.width) / APART) + 2;
  const corner = (i: number, j: number) => {
    const known = corners.get(j * columns + i);
    if (known) return known;
    const made = at(i * APART, j * APART);
    corners.set(j * columns + i, made);
    return made;
  };
  for (let y = rect.y; y < rect.y + rect.height; y++) {
    const j = Math.floor(y / APART);
    const v = y / APART - j;
    for (let x = rect.x; x < rect.x + rect.width; x++) {
      const i = Math.floor(x / APART);
      const u = x / APART - i;
      const [a, b, c, d] = [corner(i, j), corner(i + 1, j), corner(i, j + 1), corner(i + 1, j + 1)];
      const k = (y - rect.y) * rect.width + x - rect.x;
      const isEven = a.on === b.on && a.on === c.on && a.on === d.on;
      out[k] = isEven ? (a.light * (1 - u) + b.light * u) * (1 - v) + (c.light * (1 - u) + d.light * u) * v : at(x, y).light;
    }
  }
  return out;
}
