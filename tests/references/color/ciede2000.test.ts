/** Sharma, Wu, Dalal 2005: the 34 pairs, from python3-skimage's copy of the published table. */
import { readFileSync } from "node:fs";
import { differenceCiede2000 } from "../../../src/core/color/colorDifference";
import { runPython } from "../../support/python";

it("all 34 published pairs to 5e-5", () => {
  const path = runPython<string>(`import json, skimage, os, glob
print(json.dumps(glob.glob(os.path.join(os.path.dirname(skimage.__file__), 'color', 'tests', 'ciede2000_test_data.txt'))[0]))`);
  const rows = readFileSync(path, "utf8")
    .split("\n")
    .map((l) => l.trim().split(/\s+/).map(Number))
    .filter((r) => r.length >= 19 && r.every(Number.isFinite));
  expect(rows).toHaveLength(34);
  // columns: pair, 1, L1 a1 b1, eleven intermediates, dE, 2, L2 a2 b2, …
  for (const r of rows) {
    const wanted = r[15];
    const [p, q] = [r.slice(2, 5), r.slice(17, 20)] as [number[], number[]];
    expect(Math.abs(differenceCiede2000(p as [number, number, number], q as [number, number, number]) - wanted)).toBeLessThanOrEqual(5e-5);
  }
});
