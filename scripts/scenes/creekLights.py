"""Makes the demo job "Creek, four lights": separate shots over one evening, the tripod bumped between them, and their truth.

/usr/bin/python3 scripts/scenes/creekLights.py RENDERS OUT     RENDERS holds creek_1.exr to creek_4.exr
A fifth file shows frame 3 again with its lens uncorrected, for the job in which one frame differs from its partners.
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
rng = np.random.default_rng(21)
W, H, MARGIN = 1800, 1200, 1.05
K1 = -0.045
sw, sh = int(W * MARGIN), int(H * MARGIN)
offset = np.array([[1, 0, -(sw - W) / 2], [0, 1, -(sh - H) / 2], [0, 0, 1]])

# light, what is best there, share of middle grey to a quantile, shutter, time, pose (degrees, tx, ty, scale)
shots = [
    (1, "dusk sky", (0.30, 78), "1/125", "18:58:41", (0.0, 0.0, 0.0, 1.0)),
    (2, "sun on reeds", (0.18, 60), "1/200", "18:21:07", (0.11, 5.4, -3.1, 1.0)),
    (3, "calm water", (0.20, 60), "1/8", "19:31:52", (-0.07, -7.8, 4.6, 1.0003)),
    (4, "lit window", (0.09, 60), "1", "20:04:15", (0.18, 11.2, 7.3, 0.9997)),
]


def through_lens(light, frame_from_scene, k1):
    """The frame's pixels looked up in the scene: as shot -> undistorted (Newton) -> scene."""
    y, x = np.mgrid[0:H, 0:W].astype(np.float64)
    cx, cy, half = (W - 1) / 2, (H - 1) / 2, np.hypot(W, H) / 2
    if k1:
        seen = np.hypot(x - cx, y - cy) / half
        r = seen.copy()
        for _ in range(30):
            r -= (r * (1 + k1 * r * r) - seen) / (1 + 3 * k1 * r * r)
        stretch = np.where(seen > 0, r / np.maximum(seen, 1e-12), 1)
        x, y = cx + (x - cx) * stretch, cy + (y - cy) * stretch
    q = np.linalg.inv(frame_from_scene) @ np.stack([x.ravel(), y.ravel(), np.ones(x.size)])
    mx, my = [(q[k] / q[2]).reshape(H, W).astype(np.float32) for k in (0, 1)]
    return np.maximum(cv2.remap(light, mx, my, cv2.INTER_CUBIC, borderMode=cv2.BORDER_REFLECT), 0)


truth = {"size": [W, H], "reference": "creek-1.jpg", "frames": []}
for index, best, (grey, quantile), shutter, time, spec in shots:
    radiance = np.minimum(load_exr(f"{renders}/creek_{index}.exr"), 3000)
    scene = lens(np.maximum(cv2.resize(radiance, (sw, sh), interpolation=cv2.INTER_CUBIC), 0))
    base = grey / np.percentile(scene.mean(-1), quantile)
    scene = np.minimum(scene, 4 / base)
    frame_from_scene = pose(W, H, *spec) @ offset
    to_reference = offset @ np.linalg.inv(frame_from_scene)
    for name, k1 in [(f"creek-{index}.jpg", 0.0)] + ([(f"creek-{index}-lens.jpg", K1)] if index == 3 else []):
        save_jpeg(f"{out}/{name}", sensor(through_lens(scene, frame_from_scene, k1), base, rng), rng, 90)
        write_exif(f"{out}/{name}", shutter, 8, 100, 28, f"2026:09:21 {time}", 11 * index)
        truth["frames"].append({"file": name, "best": best, "k1": k1, "movingToReference": (to_reference / to_reference[2, 2]).tolist()})
        print(name, os.path.getsize(f"{out}/{name}") // 1024, "KB")
json.dump(truth, open(f"{out}/truth.json", "w"), indent=1)
