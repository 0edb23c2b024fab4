"""Makes the demo job "Jetty with and without the lamp stand": lamp in and lit, lamp carried away, and a brighter frame of the latter; and their truth.

/usr/bin/python3 scripts/scenes/jettyPair.py RENDERS OUT      RENDERS holds jetty_0.exr and jetty_1.exr (jetty.pov with STAND=0 and 1)
The truth is a mask of what the lamp and its light change: white where the light differs by more than a twentieth of a stop.
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
rng = np.random.default_rng(33)
light = [lens(np.minimum(load_exr(f"{renders}/jetty_{k}.exr"), 50), falloff=0.2) for k in (0, 1)]
base = 0.34 / np.percentile(light[0].mean(-1), 75)
for index, (lamp, ev, shutter, stamp) in enumerate([(1, 0, "1/15", "2026:10:14 18:21:04"), (0, 0, "1/15", "2026:10:14 18:21:52"), (0, 1.3, "1/6", "2026:10:14 18:22:20")], 1):
    save_jpeg(f"{out}/jetty-{index}.jpg", sensor(light[lamp], base * 2**ev, rng), rng, 92)
    write_exif(f"{out}/jetty-{index}.jpg", shutter, 8, 200, 28, stamp, 41 * index)
    print(f"jetty-{index}.jpg", os.path.getsize(f"{out}/jetty-{index}.jpg") // 1024, "KB")
change = np.abs(np.log2((light[1].mean(-1) + 1e-4) / (light[0].mean(-1) + 1e-4)))
mask = cv2.morphologyEx((change > 0.05).astype(np.uint8) * 255, cv2.MORPH_OPEN, np.ones((2, 2)))
cv2.imwrite(f"{out}/changed.png", mask)
h, w = mask.shape
json.dump({"size": [w, h], "reference": "jetty-1.jpg", "changed": "changed.png", "clean": "jetty-2.jpg"}, open(f"{out}/truth.json", "w"), indent=1)
