"""Makes the demo job "Heron on the walk": the walk, the carved heron photographed elsewhere, the same view without it; and the matte of the heron.

/usr/bin/python3 scripts/scenes/heronOnWalk.py RENDERS OUT      RENDERS holds heron_*.exr (heron.pov, marsh.pov; see README.md)
The truth is how much of each px of heron-2.jpg the heron covers, as 16-bit grey.
"""
import json
import os
import sys

sys.path.insert(0, os.path.dirname(os.path.abspath(__file__)))
from camera import *  # noqa: F403,E402
from exif import write_exif  # noqa: E402
import cv2  # noqa: E402
import numpy as np  # noqa: E402

renders, out = sys.argv[1], sys.argv[2]
os.makedirs(out, exist_ok=True)
rng = np.random.default_rng(52)
W, H = 1200, 1600


def coverage(name):
    return np.clip(load_exr(f"{renders}/{name}.exr").mean(-1), 0, 1)[..., None]


# the marsh far behind it, as a lens wide open shows it: every light is a disc
back = cv2.resize(np.minimum(load_exr(f"{renders}/heron_back.exr"), 12), (W, H), interpolation=cv2.INTER_CUBIC)
r = 21
y, x = np.mgrid[-r : r + 1, -r : r + 1]
disc = ((x * x + y * y) <= r * r).astype(np.float32)
back = cv2.filter2D(back, -1, disc / disc.sum(), borderType=cv2.BORDER_REFLECT)
back *= 0.16 / np.median(back.mean(-1))
stands = [np.minimum(load_exr(f"{renders}/heron_{k}.exr"), 30) for k in (1, 0)]
covers = [coverage("heron_m2"), coverage("heron_m0")]
# renders on black are multiplied by what they cover already
light = [stand + (1 - cover) * back for stand, cover in zip(stands, covers)]
base = 0.30 / np.percentile(stands[0][coverage("heron_m1")[..., 0] > 0.99].mean(-1), 70)
walk = lens(haze(np.minimum(load_exr(f"{renders}/heron_walk.exr"), 50), load_depth(f"{renders}/heron_walk_d150.exr", 150), 320, np.float32([0.42, 0.40, 0.36])), falloff=0.25)
frames = [(walk, 0.42 / np.percentile(walk.mean(-1), 80), "1/160", 8, 28, "2026:09:21 17:52:10")]
frames += [(lens(one, veil=0.001, bloom=0.002, falloff=0.15, lateral=0), base, "1/320", 2.8, 85, stamp) for one, stamp in zip(light, ("2026:09:21 18:03:32", "2026:09:21 18:04:05"))]
for index, (one, exposure, shutter, aperture, focal, stamp) in enumerate(frames, 1):
    save_jpeg(f"{out}/heron-{index}.jpg", sensor(one, exposure, rng), rng, 92)
    write_exif(f"{out}/heron-{index}.jpg", shutter, aperture, 100, focal, stamp, 17 * index)
    print(f"heron-{index}.jpg", os.path.getsize(f"{out}/heron-{index}.jpg") // 1024, "KB")
cv2.imwrite(f"{out}/matte.png", np.round(65535 * coverage("heron_m1")[..., 0]).astype(np.uint16))
json.dump({"plate": "heron-1.jpg", "cut": "heron-2.jpg", "clean": "heron-3.jpg", "matte": "matte.png", "box": [250, 100, 830, 1180]}, open(f"{out}/truth.json", "w"), indent=1)
