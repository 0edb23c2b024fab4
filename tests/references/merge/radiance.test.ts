/**
 * Radiance of simulated brackets with the response given: shot and read noise only, 16-bit linear TIFF written by tifffile.
 * Figure: RMSE of log2 radiance over pixels unclipped in at least one frame, one global offset removed, median over scenes.
 */
import { join } from "node:path";
import { byDay } from "../../support/night";
import { runMarsh, runPython, temporaryFolder } from "../../support/python";

const MAKE = `
import cv2, glob, json, sys, numpy as np, tifffile
out, seed = sys.argv[1], int(sys.argv[2])
rng = np.random.default_rng(seed)
p = sorted(glob.glob('/usr/share/backgrounds/*.jpg'))[seed]
img = cv2.imread(p)[..., ::-1]; s = 900 / max(img.shape[:2]); img = cv2.resize(img, None, fx=s, fy=s, interpolation=cv2.INTER_AREA)
h, w = img.shape[:2]
lin = np.maximum((img / 255.0) ** 2.2, 0.004)
y, x = np.mgrid[0:h, 0:w]
# a smooth light over the picture widens the range to about 12 stops
L = lin * (2.0 ** (5.0 * np.exp(-((x - w * .7) ** 2 + (y - h * .3) ** 2) / (w * .22) ** 2)))[..., None]
L = np.clip(L, 0, 14).astype(np.float64)
np.save(out + '/truth.npy', L)
for ev in (-4, -2, 0, 2):
    e = np.minimum(L * 2.0 ** ev, 1.5) * 20000
    n = (rng.poisson(e) + rng.normal(0, 3, e.shape)) / 20000
    tifffile.imwrite(out + '/f%+d.tif' % ev, np.clip(n * 65535 + 0.5, 0, 65535).astype(np.uint16), photometric='rgb')
print(json.dumps({'range': float(np.log2(L.max() / L.min()))}))
`;
const COMPARE = `
import json, sys, numpy as np, tifffile
L = np.load(sys.argv[1] + '/truth.npy'); R = tifffile.imread(sys.argv[1] + '/out.tif').astype(np.float64)
ok = (L * 2.0 ** -4 < 0.97).all(-1) & (R > 0).all(-1)
d = np.log2(R[ok]) - np.log2(L[ok]); d -= d.mean()
print(json.dumps({'rmse': float(np.sqrt((d * d).mean())), 'share': float(ok.mean())}))
`;

it("the median RMSE of log2 radiance is at most 0.04", () => {
  const errors = byDay([0, 1, 2, 3, 4], 2).map((seed) => {
    const folder = temporaryFolder();
    runPython(MAKE, [folder, String(seed)]);
    const files = ["f-4.tif", "f-2.tif", "f+0.tif", "f+2.tif"].map((f) => join(folder, f));
    const result = runMarsh([
      "merge",
      "radiance",
      ...files,
      "-o",
      join(folder, "out.tif"),
      "--ev",
      "-4,-2,0,2",
      "--response",
      "linear",
      "--no-register",
      "--no-crop",
      "--reference",
      files[2],
      "--quiet",
      "--json",
    ]);
    expect(result.err).toBe("");
    const { rmse, share } = runPython<{ rmse: number; share: number }>(COMPARE, [folder]);
    expect(share).toBeGreaterThan(0.9);
    return rmse;
  });
  const median = [...errors].sort((a, b) => a - b)[errors.length >> 1];
  process.stdout.write(`radiance: RMSE of log2 ${errors.map((e) => e.toFixed(4)).join(", ")}; median ${median.toFixed(4)}\n`);
  expect(median).toBeLessThanOrEqual(0.04);
});
