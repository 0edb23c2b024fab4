"""Makes the demo job "Pump-house doorway": five hand-held frames from -4 to +4 EV and their truth.

Run at development time with Debian's Python:  /usr/bin/python3 scripts/scenes/doorwayBracket.py RENDERS OUT
RENDERS holds marsh_2496.exr, marsh_2496_d150.exr and marsh_2496_d12.exr (see scripts/scenes/README.md).
"""
import json
import os
import subprocess
import sys

sys.path.insert(0, os.path.dirname(os.path.abspath(__file__)))
from camera import *  # noqa: F403,E402
import cv2  # noqa: E402
import numpy as np  # noqa: E402

renders, out = sys.argv[1], sys.argv[2]
os.makedirs(out, exist_ok=True)
rng = np.random.default_rng(42)
W, H, MARGIN = 2496, 1664, 1.07

radiance = load_exr(f"{renders}/marsh_2496.exr")
far = load_depth(f"{renders}/marsh_2496_d150.exr", 150)
near = load_depth(f"{renders}/marsh_2496_d12.exr", 12)
depth = np.where(near < 30, near, far)
sky = load_exr(f"{renders}/marsh_2496_d150.exr")[..., 1] >= 0.9985
row = int(H * 0.40)
airlight = cv2.GaussianBlur(np.minimum(radiance[row - 30 : row].mean(0)[None], 12), (0, 0), 80) * 0.5
hazy = np.minimum(np.where(sky[..., None], radiance, haze(radiance, depth, 900.0, np.broadcast_to(airlight, radiance.shape))), 5e4)
base = 0.18 / np.percentile(hazy[int(H * 0.55) :], 55) * 0.8 / 4

# The scene is a little wider than a frame, so that a shifted frame still sees real picture at its border.
sw, sh = int(W * MARGIN), int(H * MARGIN)
scene = lens(np.maximum(cv2.resize(hazy, (sw, sh), interpolation=cv2.INTER_CUBIC), 0))
offset = np.array([[1, 0, -(sw - W) / 2], [0, 1, -(sh - H) / 2], [0, 0, 1]])


def bird_mask(cx, cy, span):
    """A wading bird in flight seen from the side: body, neck, trailing legs, two raised wings; blurred along its path."""
    parts = [
        [(-0.30, 0.02), (-0.10, -0.05), (0.16, -0.05), (0.34, -0.02), (0.52, 0.00), (0.34, 0.02), (0.12, 0.06), (-0.12, 0.06)],
        [(-0.28, 0.02), (-0.56, 0.05), (-0.58, 0.035), (-0.28, 0.00)],
        [(0.12, -0.03), (0.02, -0.24), (-0.16, -0.44), (-0.30, -0.50), (-0.22, -0.34), (-0.14, -0.16), (-0.08, -0.02)],
        [(0.10, -0.02), (0.12, -0.20), (0.02, -0.36), (-0.06, -0.40), (-0.02, -0.22), (-0.04, 0.00)],
    ]
    total = np.zeros((sh, sw), np.float32)
    steps = 9
    for k in range(steps):
        layer = np.zeros((sh, sw), np.float32)
        for part in parts:
            points = np.array([[(cx + span * x + 1.0 * k) * 16, (cy + span * y - 0.25 * k) * 16] for x, y in part])
            cv2.fillPoly(layer, [points.round().astype(np.int32)], 1.0, cv2.LINE_AA, shift=4)
        total += layer / steps
    return np.clip(cv2.GaussianBlur(total, (0, 0), 0.9), 0, 1)


bird = bird_mask(1230, 330, 120)
# nominal EV, true EV, shutter label, pose (degrees, tx, ty, scale, px, py)
shots = [
    (-4, -4.0, "1/500", 1 / 480, (0.32, 21.4, -13.2, 1.0012, 2e-7, -1e-7)),
    (-2, -2.0, "1/125", 1 / 120, (-0.21, -9.7, 6.1, 0.9994, -1e-7, 2e-7)),
    (0, 0.0, "1/30", 1 / 30, (0.0, 0.0, 0.0, 1.0, 0.0, 0.0)),
    (2, 2.1, "1/8", 1 / 7.5, (0.44, 14.3, 17.8, 1.0007, 1e-7, 1e-7)),
    (4, 4.0, "1/2", 1 / 1.875, (-0.53, -26.9, -18.5, 0.9988, -2e-7, -2e-7)),
]
truth = {"size": [W, H], "base": float(base), "reference": "doorway-3.jpg", "frames": []}
reference_from_scene = offset
for index, (nominal, actual, label, seconds, spec) in enumerate(shots, 1):
    frame_from_scene = pose(W, H, *spec) @ offset
    light = np.minimum(scene, 4 / (base * 2.0**actual))
    if nominal == 0:
        light = light * (1 - bird[..., None]) + bird[..., None] * 0.02
        mask = cv2.warpPerspective(bird, frame_from_scene, (W, H))
        cv2.imwrite(f"{out}/bird-mask.png", (cv2.resize(mask, (W // 4, H // 4), interpolation=cv2.INTER_AREA) * 255).astype(np.uint8))
    light = np.maximum(cv2.warpPerspective(light, frame_from_scene, (W, H), flags=cv2.INTER_CUBIC, borderMode=cv2.BORDER_REFLECT), 0)
    name = f"doorway-{index}.jpg"
    save_jpeg(f"{out}/{name}", sensor(light, base * 2.0**actual, rng), rng)
    stamp = f"2026:09:18 19:02:{11 + index:02d}"
    subprocess.run(
        ["exiftool", "-q", "-overwrite_original", f"-ExposureTime={seconds:.8f}" if label == "1/8" else f"-ExposureTime={label}",
         "-FNumber=8", "-ISO=100", "-FocalLength=24", "-Make=Sedge", "-Model=Sedge One", f"-DateTimeOriginal={stamp}",
         f"-CreateDate={stamp}", f"-SubSecTimeOriginal={(index * 17) % 100:02d}", "-Orientation#=1", "-ColorSpace#=1",
         f"-ExposureCompensation={nominal}", "-Copyright=Wrenfold Marsh reserve", f"{out}/{name}"], check=True)
    to_reference = reference_from_scene @ np.linalg.inv(frame_from_scene)
    to_reference /= to_reference[2, 2]
    truth["frames"].append({"file": name, "nominalEv": nominal, "ev": actual, "movingToReference": to_reference.tolist()})
    print(name, os.path.getsize(f"{out}/{name}") // 1024, "KB")
json.dump(truth, open(f"{out}/truth.json", "w"), indent=1)
