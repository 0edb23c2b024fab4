"""Renders lands under two skies, and the second sky by itself: tests/fixtures/twoSkies, twelve places of 600×400 px and truth.json.

/usr/bin/python3 scripts/scenes/twoSkies.py WORK OUT [FROM TO]      WORK keeps the renders
Each place: N-land.jpg under the first sky, N-sky.jpg the second as another lens sees it without any land, N-both.jpg the land truly under the second, N-truth.png how much of each px is land.
Truth: the camera as plates.py writes it, the lens of the sky, and the colours of both lights.
"""
import json
import os
import sys

sys.path.insert(0, os.path.dirname(os.path.abspath(__file__)))
from camera import save_jpeg, sensor  # noqa: E402
from plateCamera import Camera, render  # noqa: E402
import cv2  # noqa: E402
import numpy as np  # noqa: E402

work, out = sys.argv[1], sys.argv[2]
first, last = (int(v) for v in sys.argv[3:5]) if len(sys.argv) > 4 else (0, 12)
os.makedirs(work, exist_ok=True)
os.makedirs(out, exist_ok=True)
W, H = 600, 400
# light, low, middle and high sky, clouds: an open day, an overcast one, a dusk, a storm
SKIES = {
    "day": ([0.9, 0.95, 1], [0.75, 0.82, 0.9], [0.42, 0.6, 0.86], [0.2, 0.36, 0.7], [0.95, 0.95, 0.95]),
    "grey": ([0.95, 0.97, 1], [0.8, 0.82, 0.84], [0.7, 0.72, 0.75], [0.5, 0.53, 0.57], [0.85, 0.86, 0.88]),
    "dusk": ([1, 0.72, 0.5], [1.1, 0.62, 0.3], [0.8, 0.5, 0.42], [0.3, 0.3, 0.42], [0.75, 0.4, 0.32]),
    "storm": ([0.9, 0.96, 1], [0.5, 0.54, 0.58], [0.3, 0.33, 0.37], [0.14, 0.16, 0.19], [0.2, 0.22, 0.25]),
}
PAIRS = [("day", "grey"), ("day", "dusk"), ("grey", "storm"), ("grey", "dusk"), ("day", "storm"), ("dusk", "grey")]


def light_of(name):
    """What falls on level ground, as much as its sky shows: by parts of the sky as they see that."""
    _, low, middle, high, cloud = (np.array(v) for v in SKIES[name])
    return float((0.2 * low + 0.3 * middle + 0.2 * high + 0.3 * cloud) @ [0.2126, 0.7152, 0.0722])


def write_sky(folder, name):
    light, low, middle, high, cloud = SKIES[name]
    with open(f"{folder}/sky.inc", "w") as f:
        for key, value in zip(("SkyLight", "SkyLow", "SkyMiddle", "SkyHigh", "Cloud"), (light, low, middle, high, cloud)):
            f.write(f"#declare {key}=<{value[0]},{value[1]},{value[2]}>;\n")


for index in range(12):
    rng = np.random.default_rng(5200 + index)
    u = rng.uniform
    kind = [1, 2, 3][index % 3]
    old, new = PAIRS[index % 6]
    fov, pitch, roll, height = u(44, 62), u(-3, 8), float(np.clip(rng.normal(0, 1), -2, 2)), u(1.4, 2)
    yaw = u(20, 60) * rng.choice([-1, 1]) if kind == 1 else u(-10, 10)
    camera = Camera(fov, pitch, roll, height, (W, H))
    sky_fov = fov + u(4, 16)
    sky_pitch = np.degrees(np.arctan(np.tan(np.radians(sky_fov / 2)) * H / W)) - 0.2
    folder = f"{work}/{index}"
    os.makedirs(folder, exist_ok=True)
    told = {"pair": [old, new], "focalPx": camera.focal, "cameraHeightM": height, "horizon": camera.horizon(), "skyFocalPx": Camera(sky_fov, 0, 0, 1, (W, H)).focal}
    if first <= index < last:
        with open(f"{folder}/stakes.inc", "w") as f:
            f.write("#declare Stakes=array[1][3]{{50,-50,.01}}\n")
        place = dict(SEED=5200 + index, HF=fov, PITCH=pitch, ROLL=roll, H=height, YAW=yaw, AZ=0, EL=45, SUNDEG=1, SUN=0, FILL=light_of(old), DIST=u(10, 15), DOME=24, OTHERSKY=1, SKYSEED=index)
        write_sky(folder, old)
        land = render(folder, "land", (W, H), {"KIND": kind, **place})
        write_sky(folder, new)
        both = render(folder, "both", (W, H), {"KIND": kind, **place, "FILL": light_of(new)})
        sky = render(folder, "sky", (W, H), {"KIND": 0, **place, "HF": sky_fov, "PITCH": sky_pitch, "ROLL": 0})
        # white land on nothing: how much of each px it covers
        with open(f"{folder}/sky.inc", "w") as f:
            f.write("#declare SkyLight=<1,1,1>; #declare SkyLow=<50,0,0>; #declare SkyMiddle=<50,0,0>; #declare SkyHigh=<50,0,0>; #declare Cloud=<50,0,0>;\n")
        mask = render(folder, "mask", (W, H), {"KIND": kind, **place})
        cover = 1 - np.clip(np.abs(mask[..., 0] - mask[..., 2]) / 38, 0, 1)
        exposures = [0.5 / np.percentile(p.mean(-1), 80) for p in (land, both)]
        save_jpeg(f"{out}/{index:02d}-land.jpg", sensor(land, exposures[0], rng, full_well=20000), rng, 90)
        save_jpeg(f"{out}/{index:02d}-both.jpg", sensor(both, exposures[1], rng, full_well=20000), rng, 90)
        save_jpeg(f"{out}/{index:02d}-sky.jpg", sensor(sky, exposures[1], rng, full_well=20000), rng, 90)
        cv2.imwrite(f"{out}/{index:02d}-truth.png", np.round(255 * cover).astype(np.uint8))
        json.dump(told, open(f"{folder}/truth.json", "w"))
        print(index, old, new, flush=True)
places = {f"{i:02d}": json.load(open(f"{work}/{i}/truth.json")) for i in range(12) if os.path.exists(f"{work}/{i}/truth.json")}
json.dump(places, open(f"{out}/truth.json", "w"), indent=1)
