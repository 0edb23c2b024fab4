"""Makes the demo job "Morning from the landing": six hand-turned frames in two rows of a spherical render, and their truth.

Run at development time with Debian's Python:  /usr/bin/python3 scripts/scenes/gridPanorama.py RENDERS OUT
RENDERS holds grid.exr and grid_d150.exr (see scripts/scenes/README.md): 100 by 55 degrees about a direction 4 degrees above the horizon. The rows
are shot to and fro, so that the order of the files is not that of the places; the lower row is exposed longer.
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
rng = np.random.default_rng(23)
W, H, FOCAL, WIDE, MIDDLE = 1200, 800, 1290.0, 100.0, 4.0
FALLOFF = 0.26

still = load_exr(f"{renders}/grid.exr")
depth = load_depth(f"{renders}/grid_d150.exr", 150)
sky = load_exr(f"{renders}/grid_d150.exr")[..., 1] >= 0.9985
row = int(sky.shape[0] * 0.55)
airlight = cv2.GaussianBlur(np.minimum(still[row - 16 : row].mean(0)[None], 12), (0, 0), 100) * 0.5
hazy = np.where(sky[..., None], still, haze(still, depth, 1100.0, np.broadcast_to(airlight, still.shape)))
scene = np.minimum(hazy, 40.0)

y, x = np.mgrid[0:H, 0:W].astype(np.float32)
cx, cy = (W - 1) / 2, (H - 1) / 2
r2 = ((x - cx) ** 2 + (y - cy) ** 2) / (cx * cx + cy * cy)
# yaw, pitch, roll in degrees, exposure in EV
shots = [(-23.2, 12.8, 0.6, 0.0), (0.6, 13.9, -0.8, 0.05), (23.9, 12.6, 0.4, -0.1), (24.4, -6.2, -0.5, 0.35), (-0.4, -5.1, 0.9, 0.3), (-24.1, -6.0, -0.2, 0.4)]
truth = {"size": [W, H], "focalPx": FOCAL, "frames": []}
for index, (yaw, pitch, roll, ev) in enumerate(shots, 1):
    r = turned_by(yaw, pitch, roll)
    light = view(scene, r, W, H, FOCAL, WIDE, MIDDLE) * (1 - FALLOFF * r2 + 0.05 * r2 * r2)[..., None]
    name = f"landing-{index}.jpg"
    save_jpeg(f"{out}/{name}", sensor(light, 0.9 * 2.0**ev, rng, full_well=14000), rng)
    write_exif(f"{out}/{name}", 1 / 125, 8, 100, 28, f"2026:09:21 08:12:{5 + index * 4:02d}", (index * 31) % 100)
    truth["frames"].append({"file": name, "rotation": r.ravel().tolist(), "ev": ev})
    print(name, os.path.getsize(f"{out}/{name}") // 1024, "KB")
json.dump(truth, open(f"{out}/truth.json", "w"), indent=1)
