import { transform } from "../geometry/matrix3";
import { D65, WORKING_TO_XYZ, xyzOfChromaticity } from "./primaries";

export type Lab = readonly [L: number, a: number, b: number];

/** CIE 1976 L*a*b* of a working RGB value, white D65. @see CIE 15 */
export function workingToLab(rgb: readonly number[]): Lab {
  const xyz = transform(WORKING_TO_XYZ, rgb);
  const white = xyzOfChromaticity(D65);
  const [x, y, z] = xyz.map((v, i) => {
    const t = v / white[i];
    return t > 216 / 24389 ? Math.cbrt(t) : ((24389 / 27) * t + 16) / 116;
  });
  return [116 * y - 16, 500 * (x - y), 200 * (y - z)];
}

/** CIEDE2000 colour difference with unit weights. @see Sharma, Wu, Dalal 2005, equations 2 to 22 */
export function differenceCiede2000(p: Lab, q: Lab): number {
  const deg = 180 / Math.PI;
  const cMean = (Math.hypot(p[1], p[2]) + Math.hypot(q[1], q[2])) / 2;
  const c7 = cMean ** 7;
  const g = 0.5 * (1 - Math.sqrt(c7 / (c7 + 25 ** 7)));
  const prime = (lab: Lab) => {
    const a = (1 + g) * lab[1];
    const hue = a === 0 && lab[2] === 0 ? 0 : Math.atan2(lab[2], a) * deg;
    return { L: lab[0], C: Math.hypot(a, lab[2]), h: hue < 0 ? hue + 360 : hue };
  };
  const s = prime(p);
  const t = prime(q);
  const grey = s.C * t.C === 0;
  let dh = grey ? 0 : t.h - s.h;
  if (dh > 180) dh -= 360;
  else if (dh < -180) dh += 360;
  const dH = 2 * Math.sqrt(s.C * t.C) * Math.sin(dh / 2 / deg);
  const L = (s.L + t.L) / 2;
  const C = (s.C + t.C) / 2;
  let h = s.h + t.h;
  if (!grey) {
    if (Math.abs(s.h - t.h) <= 180) h /= 2;
    else h = h < 360 ? (h + 360) / 2 : (h - 360) / 2;
  }
  const cos = (angle: number) => Math.cos(angle / deg);
  const T = 1 - 0.17 * cos(h - 30) + 0.24 * cos(2 * h) + 0.32 * cos(3 * h + 6) - 0.2 * cos(4 * h - 63);
  const turn = 30 * Math.exp(-(((h - 275) / 25) ** 2));
  const rc = 2 * Math.sqrt(C ** 7 / (C ** 7 + 25 ** 7));
  const sl = 1 + (0.015 * (L - 50) ** 2) / Math.sqrt(20 + (L - 50) ** 2);
  const dl = (t.L - s.L) / sl;
  const dc = (t.C - s.C) / (1 + 0.045 * C);
  const dhh = dH / (1 + 0.015 * C * T);
  return Math.sqrt(dl * dl + dc * dc + dhh * dhh - Math.sin((2 * turn) / deg) * rc * dc * dhh);
}
