"""Makes the demo job "Three jugs, one lamp after the other": each of two lamps alone, and both. The third frame is the sum of the others' light: its own truth.

/usr/bin/python3 scripts/scenes/threeJugs.py RENDERS OUT      RENDERS holds jugs_1.exr, jugs_2.exr and jugs_3.exr (jugs.pov)
"""
import json
import os
import sys

sys.path.insert(0, os.path.dirname(os.path.abspath(__file__)))
from camera import *  # noqa: F403,E402
from exif import write_exif  # noqa: E402
import numpy as np  # noqa: E402

renders, out = sys.argv[1], sys.argv[2]
os.makedirs(out, exist_ok=True)
rng = np.random.default_rng(61)
light = [lens(np.minimum(load_exr(f"{renders}/jugs_{k}.exr"), 20), falloff=0.2) for k in (1, 2, 3)]
base = 0.80 / np.percentile(light[2], 99)
for index, (one, stamp) in enumerate(zip(light, ("2026:10:20 19:40:12", "2026:10:20 19:40:51", "2026:10:20 19:41:30")), 1):
    save_jpeg(f"{out}/jugs-{index}.jpg", sensor(one, base, rng), rng, 92)
    write_exif(f"{out}/jugs-{index}.jpg", "1/4", 8, 100, 50, stamp, 23 * index)
    print(f"jugs-{index}.jpg", os.path.getsize(f"{out}/jugs-{index}.jpg") // 1024, "KB")
json.dump({"lamps": ["jugs-1.jpg", "jugs-2.jpg"], "both": "jugs-3.jpg"}, open(f"{out}/truth.json", "w"), indent=1)
