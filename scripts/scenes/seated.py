"""Renders plates that truly hold a thing, and the thing by itself: tests/fixtures/seated, twelve places of 900×600 px and truth.json.

/usr/bin/python3 scripts/scenes/seated.py WORK OUT [FROM TO]      WORK keeps the renders
Each place: N-plate.jpg without the thing, N-with.jpg with it, N-thing.png the thing cut out of a picture of its own (the same sun and the same side, another camera),
N-truth.png how much of each px the thing covers (red) and how much light its shadow takes from the ground there (green, share of the light).
Truth: of the camera, the sun and the stakes as plates.py writes them; where the foot of the thing is, and how tall it is.
"""
import json
import os
import sys

sys.path.insert(0, os.path.dirname(os.path.abspath(__file__)))
from camera import encode_srgb, save_jpeg, sensor  # noqa: E402
from plateCamera import Camera, render, shade_of, towards, turn  # noqa: E402
import cv2  # noqa: E402
import numpy as np  # noqa: E402

work, out = sys.argv[1], sys.argv[2]
first, last = (int(v) for v in sys.argv[3:5]) if len(sys.argv) > 4 else (0, 12)
os.makedirs(work, exist_ok=True)
os.makedirs(out, exist_ok=True)
W, H = 900, 600
# of the thing's own picture
OWN_W, OWN_H = 480, 640
DOME = 24
HEIGHTS = {1: 1.4, 2: 1.05, 3: 0.92, 4: 0.92}

truth = {}
for index in range(12):
    rng = np.random.default_rng(9100 + index)
    u = rng.uniform
    kind = 1 if index % 2 == 0 else 3
    thing = [1, 2, 3, 4][index // 2 % 4]
    # until its shadow and those of the stakes lie in the picture, and on the boards
    while True:
        fov, pitch, roll, height = u(42, 62), u(-14, -6), float(np.clip(rng.normal(0, 1.2), -3, 3)), u(1.2, 2)
        yaw = u(18, 62) * rng.choice([-1, 1]) if kind == 1 else u(-12, 12)
        azimuth, elevation = u(-175, 175), u(24, 55)
        foot = np.array([u(-1.2, 1.2), 0, u(3.6, 6.5)] if kind == 1 else [u(-0.5, 0.5), 0, u(4, 7)])
        stake = np.array([foot[0] + u(0.9, 1.6) * rng.choice([-1, 1]), 0, foot[2] + u(-0.6, 1.2)] if kind == 1 else [foot[0] + u(0.35, 0.6) * rng.choice([-1, 1]), 0, foot[2] + u(-1.4, -0.9)])
        stake_height = u(0.45, 0.8)
        camera, sun_way = Camera(fov, pitch, roll, height, (W, H)), towards(azimuth, elevation)

        def tip_of(at, metres):
            return at + [0, metres, 0] - sun_way * metres / sun_way[1]

        ends = [(foot, HEIGHTS[thing]), (stake, stake_height)]
        seen = [camera.place(p) for at, metres in ends for p in (at, at + [0, metres, 0], tip_of(at, metres))]
        inside = all(p is not None and 30 <= p[0] < W - 30 and 20 <= p[1] < H - 15 for p in seen)
        boards = kind == 1 or all(abs((turn("y", -yaw) @ (p - [0, 0, 1]))[0]) < 1.1 for at, metres in ends for p in (at, tip_of(at, metres)))
        # nothing behind the stake's shadow but ground, and the two apart
        apart = abs(seen[0][0] - seen[3][0]) > 90 if inside else False
        if inside and boards and apart:
            break
    width = float(rng.choice([0.53, 1.5, 3]))
    sun, fill, distance = u(1.6, 3), u(0.25, 0.5), u(13, 17)
    ratio, shade = shade_of(sun, elevation, fill)
    # its own picture is taken a little nearer or further off, and from a little higher or lower
    nearer, higher, turned = u(0.8, 1.25), u(0.92, 1.08), u(0, 360)
    marks = [camera.place(p) for p in (stake, stake + [0, stake_height, 0], tip_of(stake, stake_height))]
    truth[f"{index:02d}"] = {
        "kind": {1: "sheds", 3: "jetty"}[kind], "thing": {1: "heron", 2: "keeper", 3: "keeper", 4: "keeper"}[thing], "focalPx": camera.focal, "cameraHeightM": height, "horizon": camera.horizon(),
        "sun": {"azimuthDeg": azimuth, "elevationDeg": elevation, "widthDeg": width, "ratioEv": ratio, "shade": shade},
        "stake": {"foot": marks[0], "top": marks[1], "tip": marks[2], "heightM": stake_height}, "foot": camera.place(foot)}
    if not first <= index < last:
        continue
    folder = f"{work}/{index}"
    os.makedirs(folder, exist_ok=True)
    with open(f"{folder}/stakes.inc", "w") as f:
        f.write(f"#declare Stakes=array[1][3]{{{{{stake[0]:.5f},{stake[2]:.5f},{stake_height:.5f}}}}}\n")
    place = dict(SEED=9100 + index, HF=fov, PITCH=pitch, ROLL=roll, H=height, YAW=yaw, AZ=azimuth, EL=elevation, SUNDEG=width, SUN=sun, FILL=fill, DIST=distance, DOME=DOME, MOWN=1)
    stands = dict(THING=thing, TX=foot[0], TZ=foot[2], TURN=turned)
    plate = np.minimum(render(folder, "plate", (W, H), {"KIND": kind, **place}), 20)
    held = np.minimum(render(folder, "with", (W, H), {"KIND": kind, **place, **stands}), 20)
    cover = render(folder, "cover", (W, H), {"KIND": 0, **place, **stands, "MATTE": 1})[..., 1]
    # the thing by itself, as tall as nine tenths of its picture
    distance_own, way = np.hypot(foot[0], foot[2]) * nearer, foot / np.hypot(foot[0], foot[2])
    middle = 0.5 * HEIGHTS[thing]
    own_fov = np.degrees(2 * np.arctan(HEIGHTS[thing] / 0.8 / 2 / distance_own * OWN_W / OWN_H))
    alone = {**place, **stands, "KIND": 0, "TX": way[0] * distance_own, "TZ": way[2] * distance_own, "H": height * higher, "HF": own_fov,
             "LOOKX": way[0] * distance_own, "LOOKY": middle, "LOOKZ": way[2] * distance_own}
    own = np.minimum(render(folder, "own", (OWN_W, OWN_H), alone), 20)
    own_cover = render(folder, "ownCover", (OWN_W, OWN_H), {**alone, "MATTE": 1})[..., 1]
    exposure = 0.42 / np.percentile(plate.mean(-1), 75)
    save_jpeg(f"{out}/{index:02d}-plate.jpg", sensor(plate, exposure, rng, full_well=20000), rng, 88)
    save_jpeg(f"{out}/{index:02d}-with.jpg", sensor(held, exposure, rng, full_well=20000), rng, 88)
    # a render on black is multiplied by what it covers
    colour = own / np.maximum(own_cover, 1e-3)[..., None] * (own_cover > 0)[..., None]
    value = np.dstack([encode_srgb(np.clip(colour * exposure, 0, 1)), np.clip(own_cover, 0, 1)])
    cv2.imwrite(f"{out}/{index:02d}-thing.png", np.round(value * 255).astype(np.uint8))
    lost = np.where(plate.mean(-1) > 1e-4, 1 - held.mean(-1) / np.maximum(plate.mean(-1), 1e-4), 0)
    shadow = np.clip(lost, 0, 1) * (cover < 0.02)
    cv2.imwrite(f"{out}/{index:02d}-truth.png", np.round(255 * np.dstack([0 * shadow, shadow, np.clip(cover, 0, 1)])).astype(np.uint8))
    # how tall it truly is: its highest px, over its foot
    top = np.nonzero((cover > 0.5).any(1))[0][0]
    x = float(np.mean(np.nonzero(cover[top] > 0.5)[0]))
    ray = camera.pose @ np.array([x - (W - 1) / 2, -(top - 0.5 - (H - 1) / 2), camera.focal])
    truth[f"{index:02d}"]["heightM"] = float(height + np.hypot(foot[0], foot[2]) / np.hypot(ray[0], ray[2]) * ray[1])
    json.dump(truth[f"{index:02d}"], open(f"{folder}/truth.json", "w"))
    print(index, truth[f"{index:02d}"]["heightM"], flush=True)
told = {name: json.load(open(f"{work}/{int(name)}/truth.json")) for name in truth if os.path.exists(f"{work}/{int(name)}/truth.json")}
json.dump(told, open(f"{out}/truth.json", "w"), indent=1)
