"""Makes the demo job "Long boardwalk": five hand-turned frames of a spherical render, and their truth.

Run at development time with Debian's Python:  /usr/bin/python3 scripts/scenes/boardwalkPanorama.py RENDERS OUT
RENDERS holds walk_0.exr, walk_8.exr, walk_16.exr and walk_d150.exr (see scripts/scenes/README.md): 150 by 50 degrees, longitude and
latitude in equal steps. The wheel of the wind pump turns between the frames; exposure drifts; the lens darkens the corners.
"""
import json
import os
import sys

sys.path.insert(0, os.path.dirname(os.path.abspath(__file__)))
from camera import *  # noqa: F403,E402
from exif import write_exif  # noqa: E402
from sphericalView import turned_by, view  # noqa: E402
import cv2  # noqa: E402
import numpy as np  # noqa: E402

renders, out = sys.argv[1], sys.argv[2]
os.makedirs(out, exist_ok=True)
rng = np.random.default_rng(11)
W, H, FOCAL, WIDE = 1500, 1000, 1560.0, 150.0
FALLOFF = 0.30

still = load_exr(f"{renders}/walk_0.exr")
depth = load_depth(f"{renders}/walk_d150.exr", 150)
sky = load_exr(f"{renders}/walk_d150.exr")[..., 1] >= 0.9985
MH, MW = depth.shape
row = int(MH * 0.47)
airlight = cv2.GaussianBlur(np.minimum(still[row - 20 : row].mean(0)[None], 12), (0, 0), 120) * 0.5


def prepared(radiance):
    hazy = np.where(sky[..., None], radiance, haze(radiance, depth, 1100.0, np.broadcast_to(airlight, radiance.shape)))
    return np.minimum(hazy, 40.0)


def turned(step):
    """The scene with the wheel turned; only its surroundings were rendered again."""
    if step == 0:
        return prepared(still)
    part = load_exr(f"{renders}/walk_{step}.exr")
    mixed = still.copy()
    y0, y1, x0, x1 = 484, 856, 2604, 2846
    mixed[y0:y1, x0:x1] = part[y0:y1, x0:x1]
    return prepared(mixed)


scenes = {step: turned(step) for step in (0, 8, 16)}
base = 0.9


y, x = np.mgrid[0:H, 0:W].astype(np.float32)
cx, cy = (W - 1) / 2, (H - 1) / 2
r2 = ((x - cx) ** 2 + (y - cy) ** 2) / (cx * cx + cy * cy)
# yaw, pitch, roll in degrees, exposure in EV, degrees of the wheel
shots = [(-44.6, 0.9, 0.7, 0.0, 0), (-22.1, -0.6, -0.9, 0.12, 0), (0.7, 0.4, 1.3, 0.2, 0), (22.6, -1.1, -0.4, 0.05, 8), (44.2, 0.5, 0.8, -0.15, 16)]
truth = {"size": [W, H], "focalPx": FOCAL, "frames": []}
for index, (yaw, pitch, roll, ev, wheel) in enumerate(shots, 1):
    r = turned_by(yaw, pitch, roll)
    light = view(scenes[wheel], r, W, H, FOCAL, WIDE)
    light = light * (1 - FALLOFF * r2 + 0.06 * r2 * r2)[..., None]
    name = f"boardwalk-{index}.jpg"
    save_jpeg(f"{out}/{name}", sensor(light, base * 2.0**ev, rng, full_well=14000), rng)
    write_exif(f"{out}/{name}", 1 / 125, 8, 100, 28, f"2026:09:21 07:41:{10 + index * 3:02d}", (index * 23) % 100)
    truth["frames"].append({"file": name, "rotation": r.ravel().tolist(), "ev": ev, "wheelDeg": wheel})
    print(name, os.path.getsize(f"{out}/{name}") // 1024, "KB")
json.dump(truth, open(f"{out}/truth.json", "w"), indent=1)
