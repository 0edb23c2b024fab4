/** Bands of light, and what is shown for judging. */
import { encodeSrgb } from "../core/color/srgbCurve";
import { BANDS, bandOf, bandTable } from "./judgedAs";
import { judgeIn, judgeMono, useView } from "./viewState";

const hexToRgb = (hex: string): number[] => [1, 3, 5].map((at) => parseInt(hex.slice(at, at + 2), 16) / 255);

it("each step of one EV under white is a band of its own", () => {
  for (const [light, fromEv] of [
    [1, -0.05],
    [0.7, -1],
    [0.3, -2],
    [0.18, -3],
    [2 ** -5.5, -6],
    [2 ** -7.5, -8],
    [0, -Infinity],
  ])
    expect(bandOf(encodeSrgb(light)).fromEv).toBe(fromEv);
});

it("the lighter the light the lighter its band, so that it is told without colour; neighbours differ", () => {
  const light = BANDS.map(({ color }) => hexToRgb(color)).map(([r, g, b]) => 0.2126 * r ** 2.2 + 0.7152 * g ** 2.2 + 0.0722 * b ** 2.2);
  light.slice(1).forEach((v, i) => expect(v).toBeGreaterThan(1.15 * light[i]));
  expect(new Set(BANDS.map((b) => b.color)).size).toBe(BANDS.length);
});

it("a table of a filter has the channel of each band", () => {
  const [r, g, b] = ([0, 1, 2] as const).map((c) => bandTable(c).split(" ").map(Number));
  expect(r).toHaveLength(256);
  expect([r[255], g[255], b[255]]).toEqual(hexToRgb(BANDS[BANDS.length - 1].color).map((v) => expect.closeTo(v, 2)));
  expect([r[0], g[0], b[0]]).toEqual(hexToRgb(BANDS[0].color).map((v) => expect.closeTo(v, 2)));
});

it("mono is one press away, and back", () => {
  judgeMono();
  expect(useView.getState().judged).toBe("mono");
  judgeMono();
  expect(useView.getState().judged).toBe("colour");
  judgeIn("bands");
  judgeMono();
  expect(useView.getState().judged).toBe("mono");
  judgeIn("colour");
});
