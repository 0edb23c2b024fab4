"""Makes the demo job "Slate bench barometer": eight frames focused from near to far, with the framing change of focusing, and its truth.

/usr/bin/python3 scripts/scenes/barometerStack.py RENDERS OUT      RENDERS holds brass.exr and brass_d.exr (fog over 40 cm)
Defocus is made in layers from the depth, back to front, so that what is near is blurred over what is far. The circle of confusion of a
layer is proportional to its difference in dioptres from the plane in focus.
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
rng = np.random.default_rng(12)
FRAMES, LAYERS, BREATHING, REFERENCE = 8, 40, 0.012, 4
light = np.minimum(load_exr(f"{renders}/brass.exr"), 30)
depth = np.minimum(load_depth(f"{renders}/brass_d.exr", 40), 120)
height, width = depth.shape
dioptres = 1 / depth
near, far = np.percentile(dioptres, 99.7), np.percentile(dioptres, 20)
focused = np.linspace(near, far, FRAMES)
step = focused[0] - focused[1]
SIGMA_PER_STEP = 2.1


def focus_at(plane):
    """Layers from far to near; each covers a little of its neighbour, so that no gap opens between them."""
    edges = np.linspace(dioptres.min(), dioptres.max() + 1e-6, LAYERS + 1)
    result = np.zeros_like(light)
    for k in range(LAYERS):
        centre = (edges[k] + edges[k + 1]) / 2
        # everything from here on back fills what this layer uncovers at its rim
        alpha = (dioptres >= edges[k]).astype(np.float32)
        sigma = abs(centre - plane) / step * SIGMA_PER_STEP
        here = light * ((dioptres >= edges[k]) & (dioptres < edges[k + 1]))[..., None] + light * (dioptres >= edges[k + 1])[..., None]
        if sigma > 0.25:
            alpha = cv2.GaussianBlur(alpha, (0, 0), sigma)
            here = cv2.GaussianBlur(here * (dioptres >= edges[k])[..., None], (0, 0), sigma)
        result = here + result * (1 - alpha[..., None]) if k else here / np.maximum(alpha, 1e-3)[..., None]
    return result


def framed(picture, k):
    m = pose(width, height, 0, 0, 0, 1 + BREATHING * (k - REFERENCE) / (FRAMES - 1))
    return cv2.warpPerspective(picture.astype(np.float32), m, (width, height), flags=cv2.INTER_CUBIC, borderMode=cv2.BORDER_REFLECT)


base = 0.42 / np.percentile(light.mean(-1), 88)
for k in range(FRAMES):
    frame = sensor(lens(np.maximum(framed(focus_at(focused[k]), k), 0), falloff=0.15), base, rng, full_well=16000)
    name = f"{out}/barometer-{k + 1}.jpg"
    save_jpeg(name, frame, rng, 90)
    write_exif(name, "1/15", 5.6, 100, 90, f"2026:10:04 10:20:{10 + 3 * k:02d}", 11 + k)
    print(name, os.path.getsize(name) // 1024, "KB")
sharp = np.clip(lens(np.maximum(light, 0), falloff=0.15) * base, 0, 1)
save_jpeg(f"{out}/sharp.jpg", sharp, rng, 92)
index = np.clip((near - dioptres) / step, 0, FRAMES - 1)
cv2.imwrite(f"{out}/depth.png", np.round(index * 8192).astype(np.uint16))
json.dump({"size": [width, height], "frames": FRAMES, "breathing": BREATHING, "reference": f"barometer-{REFERENCE + 1}.jpg",
           "sharp": "sharp.jpg", "depth": "depth.png: index of the sharpest frame times 8192, framed as the reference"}, open(f"{out}/truth.json", "w"), indent=1)
