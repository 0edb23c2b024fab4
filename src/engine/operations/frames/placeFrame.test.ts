import { toFrame } from "../../../core/geometry/lens";
import { channelMaps } from "./placeFrame";

it("a colour that is larger is sampled by that share farther from the middle of the frame as shot, whatever lens and place", () => {
  const size = { width: 600, height: 400 };
  const lens = { k1: -0.12, k2: 0.03 };
  const outputToSource = [1.01, 0.02, -4, -0.015, 0.99, 3, 1e-6, -2e-6, 1];
  const lateral = { red: 2e-3, blue: -1e-3 };
  const maps = channelMaps(outputToSource, lens, lateral, size);
  for (const [x, y] of [
    [0, 0],
    [599, 399],
    [120, 310],
  ]) {
    const [u, v] = toFrame(outputToSource, lens, size, x, y);
    [lateral.red, 0, lateral.blue].forEach((larger, c) => {
      const got = toFrame(maps[c].outputToSource, maps[c].lens, size, x, y);
      expect(got[0]).toBeCloseTo(299.5 + (u - 299.5) * (1 + larger), 9);
      expect(got[1]).toBeCloseTo(199.5 + (v - 199.5) * (1 + larger), 9);
    });
  }
});
