/** Against published standards and colorjs.io. */
import Color from "colorjs.io";
import { differenceCiede2000, workingToLab } from "./colorDifference";
import { adaptation, D50_XYZ, D65, REC2020, REC709, rgbToRgb, rgbToXyz, xyzOfChromaticity } from "./primaries";
import { decodeSrgb, encodeSrgb } from "./srgbCurve";
import { lightXyz, proposeWhiteBalance, whiteBalanceMatrix } from "./whiteBalance";
import { transform } from "../geometry/matrix3";

it("the sRGB curve: values of IEC 61966-2-1 and its round trip", () => {
  expect(decodeSrgb(0.04045)).toBeCloseTo(0.0031308, 6);
  expect(255 * encodeSrgb(0.18)).toBeCloseTo(117.6, 0); // an 18 % card is 118 (common practice, no source)
  for (let i = 0; i <= 100; i++) expect(encodeSrgb(decodeSrgb(i / 100))).toBeCloseTo(i / 100, 7);
});

it("the matrix of Rec. 709 is the one of IEC 61966-2-1 (four digits as printed there)", () => {
  [0.4124, 0.3576, 0.1805, 0.2126, 0.7152, 0.0722, 0.0193, 0.1192, 0.9505].forEach((v, i) => expect(rgbToXyz(REC709)[i]).toBeCloseTo(v, 4));
});

it("luminance of Rec. 2020 is the one of ITU-R BT.2020", () => {
  [0.2627, 0.678, 0.0593].forEach((v, i) => expect(rgbToXyz(REC2020)[3 + i]).toBeCloseTo(v, 4));
});

it("Rec. 709 to Rec. 2020 agrees with colorjs.io", () => {
  const m = rgbToRgb(REC709, REC2020);
  const other = new Color("srgb-linear", [0.3, 0.5, 0.1]).to("rec2020-linear").coords as number[];
  transform(m, [0.3, 0.5, 0.1]).forEach((v, i) => expect(v).toBeCloseTo(other[i], 4));
});

it("adaptation from D65 to D50 is Bradford as printed by Lindbloom", () => {
  const wanted = [1.0478112, 0.0228866, -0.050127, 0.0295424, 0.9904844, -0.0170491, -0.0092345, 0.0150436, 0.7521316];
  adaptation(xyzOfChromaticity(D65), D50_XYZ).forEach((v, i) => expect(v).toBeCloseTo(wanted[i], 3));
});

it("CIE L*a*b* agrees with colorjs.io (white D65)", () => {
  const rgb = [0.4, 0.2, 0.05];
  const other = new Color("rec2020-linear", rgb as [number, number, number]).to("lab-d65").coords as number[];
  workingToLab(rgb).forEach((v, i) => expect(v).toBeCloseTo(other[i], 1));
});

it("CIEDE2000: the first pairs of Sharma, Wu, Dalal 2005 (recalled from memory; all 34 are checked in tests/references)", () => {
  expect(differenceCiede2000([50, 2.6772, -79.7751], [50, 0, -82.7485])).toBeCloseTo(2.0425, 4);
  expect(differenceCiede2000([50, 0, 0], [50, -1, 2])).toBeCloseTo(2.3669, 4);
});

it("white balance is the identity at zero, warms with positive mired and undoes a cast", () => {
  whiteBalanceMatrix(0, 0).forEach((v, i) => expect(v).toBeCloseTo(i % 4 === 0 ? 1 : 0, 12));
  const [r, , b] = transform(whiteBalanceMatrix(30, 0), [0.5, 0.5, 0.5]);
  expect(r).toBeGreaterThan(b);
  const [rm, gm, bm] = transform(whiteBalanceMatrix(0, 0.01), [0.5, 0.5, 0.5]);
  expect(gm).toBeLessThan((rm + bm) / 2);
  const found = proposeWhiteBalance([0.5, 0.42, 0.3])!;
  const neutral = transform(whiteBalanceMatrix(found.mired, found.duv), [0.5, 0.42, 0.3]);
  expect(neutral[0]).toBeCloseTo(neutral[1], 5);
  expect(neutral[2]).toBeCloseTo(neutral[1], 5);
  expect(proposeWhiteBalance([0.5, 0, 0.1])).toBeNull();
});

it("the light at D65's place has D65's chromaticity to 0.002", () => {
  const [X, Y, Z] = lightXyz(1e6 / 6504, 0.0032);
  expect(X / (X + Y + Z)).toBeCloseTo(D65[0], 2);
  expect(Math.abs(Y / (X + Y + Z) - D65[1])).toBeLessThan(0.002);
});
