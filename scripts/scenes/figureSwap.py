"""Makes the demo job "Wooden figure, two poses": two hand-held frames in which only the shoulder can line up, and its truth.

/usr/bin/python3 scripts/scenes/figureSwap.py RENDERS OUT      RENDERS holds figure_1.exr and figure_2.exr
The truth is the homography between the two pictures of the chest's front at the shoulders, from the scene's own numbers (figure.pov).
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
rng = np.random.default_rng(8)
W, H, ANGLE = 1620, 1080, 47


def turn(axis, degrees):
    """The renderer's rotations: z takes x to y, y takes z to x, x takes y to z."""
    c, s = np.cos(np.radians(degrees)), np.sin(np.radians(degrees))
    return {"x": np.array([[1, 0, 0], [0, c, -s], [0, s, c]]), "y": np.array([[c, 0, s], [0, 1, 0], [-s, 0, c]]), "z": np.array([[c, -s, 0], [s, c, 0], [0, 0, 1]])}[axis]


def chest_to_world(p, lean):
    p = turn("z", lean * 0.4) @ p + np.array([0, 0.15, 0])
    p = turn("z", lean) @ p + np.array([0, 2.6, 0])
    return turn("y", -16) @ p + np.array([0, 20.3, 0])


def picture(p, camera):
    cx, cy, cz, roll = camera
    lx, ly = 0, 21
    pose = turn("y", np.degrees(np.arctan2(lx - cx, -cz))) @ turn("x", np.degrees(np.arctan2(cy - ly, -cz))) @ turn("z", roll)
    x, y, z = pose.T @ (p - np.array([cx, cy, cz]))
    f = W / 2 / np.tan(np.radians(ANGLE / 2))
    return [x / z * f + (W - 1) / 2, -y / z * f + (H - 1) / 2]


cameras = [(3, 27, -74, 0), (5.2, 26, -74, 1.2)]
leans = [0, 2.2]
# the front of the chest below the right shoulder (the figure's left): the surface is 0.68 deep for one wide
front = [np.array([x, y, -0.68 * np.sqrt(max(0, r * r - x * x))]) for y, r in ((3.6, 2.5), (4.6, 2.8), (5.6, 3.05), (6.2, 3.1)) for x in (-2.2, -1.4, -0.6, 0.2, 1.0, 1.8)]
views = [np.float64([picture(chest_to_world(p, lean), camera) for p in front]) for lean, camera in zip(leans, cameras)]
to_reference, _ = cv2.findHomography(views[1], views[0], 0)
x0, y0 = views[0].min(0)
x1, y1 = views[0].max(0)
for index, (shutter, stamp) in enumerate([("1/60", "2026:10:02 14:11:26"), ("1/60", "2026:10:02 14:13:02")], 1):
    light = lens(np.minimum(load_exr(f"{renders}/figure_{index}.exr"), 50), falloff=0.2)
    if index == 1:
        base = 0.30 / np.percentile(light.mean(-1), 70)
    save_jpeg(f"{out}/figure-{index}.jpg", sensor(light, base, rng), rng, 92)
    write_exif(f"{out}/figure-{index}.jpg", shutter, 5.6, 200, 50, stamp, 31 * index)
    print(f"figure-{index}.jpg", os.path.getsize(f"{out}/figure-{index}.jpg") // 1024, "KB")
truth = {"size": [W, H], "reference": "figure-1.jpg", "shoulder": [int(x0), int(y0), int(x1 - x0), int(y1 - y0)],
         "points": {"reference": views[0].tolist(), "moving": views[1].tolist()}, "movingToReference": (to_reference / to_reference[2, 2]).tolist()}
json.dump(truth, open(f"{out}/truth.json", "w"), indent=1)
