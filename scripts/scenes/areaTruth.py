"""Where the sky and the wooden figure are in the demo frames, as masks a quarter as large, for tests of what is found in pictures.

/usr/bin/python3 scripts/scenes/areaTruth.py RENDERS DEMO     RENDERS holds creek_d150.exr, marsh_2496_d150.exr, figmask_1.png, figmask_2.png
"""
import os
import sys

sys.path.insert(0, os.path.dirname(os.path.abspath(__file__)))
from camera import *  # noqa: F403,E402
import cv2  # noqa: E402
import numpy as np  # noqa: E402

renders, demo = sys.argv[1], sys.argv[2]


def framed(mask, W, H, margin):
    """A mask of the scene as the reference frames it, a quarter as large."""
    sw, sh = int(W * margin), int(H * margin)
    offset = np.array([[1, 0, -(sw - W) / 2], [0, 1, -(sh - H) / 2], [0, 0, 1]])
    scene = cv2.resize(mask.astype(np.float32), (sw, sh), interpolation=cv2.INTER_LINEAR)
    frame = cv2.warpPerspective(scene, offset, (W, H), flags=cv2.INTER_LINEAR)
    return (cv2.resize(frame, (W // 4, H // 4), interpolation=cv2.INTER_AREA) * 255).round().astype(np.uint8)


def sky(name):
    """Fog as thick as it gets: nothing stands there."""
    return load_exr(f"{renders}/{name}")[..., 1] >= 0.9985


# both references were shot straight on
cv2.imwrite(f"{demo}/creek/sky.png", framed(sky("creek_d150.exr"), 1800, 1200, 1.05))
cv2.imwrite(f"{demo}/doorway/sky.png", framed(sky("marsh_2496_d150.exr"), 2496, 1664, 1.07))
for k in (1, 2):
    mask = cv2.imread(f"{renders}/figmask_{k}.png", 0).astype(np.float32) / 255
    h, w = mask.shape
    cv2.imwrite(f"{demo}/figure/figure-{k}-mask.png", (cv2.resize((mask > 0.3).astype(np.float32), (w // 4, h // 4), interpolation=cv2.INTER_AREA) * 255).astype(np.uint8))
