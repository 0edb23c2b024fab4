"""Renders plates at dusk that a lamp lights, with a thing truly in that light, and the thing as it looks without: tests/fixtures/lampLit, twelve places of 600×400 px and truth.json.

/usr/bin/python3 scripts/scenes/lampLit.py WORK OUT [FROM TO]      WORK keeps the renders
Each place: N-plate.jpg in the lamp's light, N-with.jpg with the thing there, N-thing.png the thing cut out of the same view without the lamp.
Truth: the camera as plates.py writes it; the foot and height of the thing; the lamp: where it is seen, metres over the ground to it, width, EV over white a metre away, colour, and the light of all else.
"""
import json
import os
import sys

sys.path.insert(0, os.path.dirname(os.path.abspath(__file__)))
from camera import encode_srgb, save_jpeg, sensor  # noqa: E402
from plateCamera import Camera, render  # noqa: E402
import cv2  # noqa: E402
import numpy as np  # noqa: E402

work, out = sys.argv[1], sys.argv[2]
first, last = (int(v) for v in sys.argv[3:5]) if len(sys.argv) > 4 else (0, 12)
os.makedirs(work, exist_ok=True)
os.makedirs(out, exist_ok=True)
W, H = 600, 400
DOME = 24
HEIGHTS = {1: 1.4, 2: 1.05, 3: 0.92, 4: 0.92}
WEIGHTS = np.array([0.2126, 0.7152, 0.0722])

for index in range(12):
    rng = np.random.default_rng(7400 + index)
    u = rng.uniform
    kind = 1 if index % 2 == 0 else 3
    thing = [1, 2, 3, 4][index // 2 % 4]
    fill, around = u(0.03, 0.06), np.radians(30 * index + u(0, 30))
    # a lamp somewhere around it, until both are seen
    while True:
        fov, pitch, roll, height = u(36, 50), u(-12, -5), float(np.clip(rng.normal(0, 1), -2, 2)), u(1.3, 1.8)
        yaw = u(25, 60) * rng.choice([-1, 1]) if kind == 1 else u(-8, 8)
        camera = Camera(fov, pitch, roll, height, (W, H))
        foot = np.array([u(-0.8, 0.8), 0, u(3.4, 5)] if kind == 1 else [u(-0.4, 0.4), 0, u(3.6, 5)])
        away, over = u(1.1, 1.8), u(0.5, 1.7)
        lamp = foot + [away * np.sin(around), over, away * np.cos(around)]
        seen = [camera.place(p) for p in (foot, foot + [0, HEIGHTS[thing], 0], lamp)]
        inside = all(p is not None for p in seen) and all(20 <= p[0] < W - 20 and 10 <= p[1] < H - 12 for p in seen[:2])
        if inside and lamp[2] > 0.8 and (kind == 1 or abs(lamp[0]) < 2.2):
            break
    strong, wide = u(0.5, 1.2), u(0.05, 0.15)
    colour = np.array([1, u(0.62, 0.8), u(0.3, 0.5)])
    colour = colour / (WEIGHTS @ colour)
    folder = f"{work}/{index}"
    os.makedirs(folder, exist_ok=True)
    with open(f"{folder}/stakes.inc", "w") as f:
        f.write("#declare Stakes=array[1][3]{{50,-50,.01}}\n")
    turned = u(0, 360)
    place = dict(SEED=7400 + index, HF=fov, PITCH=pitch, ROLL=roll, H=height, YAW=yaw, AZ=0, EL=45, SUNDEG=1, SUN=0, FILL=fill, DIST=u(11, 15), DOME=DOME, MOWN=1)
    shines = dict(LAMPX=lamp[0], LAMPY=lamp[1], LAMPZ=lamp[2], LAMPR=wide / 2, LAMP=strong, LAMPRED=colour[0], LAMPGREEN=colour[1], LAMPBLUE=colour[2])
    stands = dict(THING=thing, TX=foot[0], TZ=foot[2], TURN=turned)
    exposure = 0.3 / (fill + strong / (away**2 + over**2))
    told = {
        "thing": {1: "heron", 2: "keeper", 3: "keeper", 4: "keeper"}[thing], "focalPx": camera.focal, "cameraHeightM": height, "horizon": camera.horizon(), "foot": seen[0],
        "lamp": {"at": seen[2], "distanceM": float(np.hypot(lamp[0], lamp[2])), "widthM": wide, "ev": float(np.log2(strong * exposure)), "color": colour.tolist()},
        "ambientEv": float(np.log2(fill * exposure))}
    if first <= index < last:
        plate = np.minimum(render(folder, "plate", (W, H), {"KIND": kind, **place, **shines}), 20)
        held = np.minimum(render(folder, "with", (W, H), {"KIND": kind, **place, **shines, **stands}), 20)
        own = np.minimum(render(folder, "own", (W, H), {"KIND": 0, **place, **stands}), 20)
        cover = render(folder, "cover", (W, H), {"KIND": 0, **place, **stands, "MATTE": 1})[..., 1]
        save_jpeg(f"{out}/{index:02d}-plate.jpg", sensor(plate, exposure, rng, full_well=20000), rng, 88)
        save_jpeg(f"{out}/{index:02d}-with.jpg", sensor(held, exposure, rng, full_well=20000), rng, 88)
        value = np.dstack([encode_srgb(np.clip(own / np.maximum(cover, 1e-3)[..., None] * (cover > 0)[..., None] * exposure, 0, 1)), np.clip(cover, 0, 1)])
        cv2.imwrite(f"{out}/{index:02d}-thing.png", np.round(value * 65535).astype(np.uint16))
        rows = np.nonzero((cover > 0.5).any(1))[0]
        x = float(np.mean(np.nonzero(cover[rows[0]] > 0.5)[0]))
        ray = camera.pose @ np.array([x - (W - 1) / 2, -(rows[0] - 0.5 - (H - 1) / 2), camera.focal])
        told["heightM"] = float(height + np.hypot(foot[0], foot[2]) / np.hypot(ray[0], ray[2]) * ray[1])
        json.dump(told, open(f"{folder}/truth.json", "w"))
        print(index, told["heightM"], flush=True)
places = {f"{i:02d}": json.load(open(f"{work}/{i}/truth.json")) for i in range(12) if os.path.exists(f"{work}/{i}/truth.json")}
json.dump(places, open(f"{out}/truth.json", "w"), indent=1)
