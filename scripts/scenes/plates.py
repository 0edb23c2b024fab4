"""Renders plates with a known camera and sun: tests/fixtures/plates, 46 pictures of 1200×800 px and truth.json.

/usr/bin/python3 scripts/scenes/plates.py WORK OUT [FROM TO]      WORK keeps the renders
Truth of each: kind, horizontal field of view, focal length in px, pitch (up), roll (clockwise as the picture shows it), height of the camera in m, the horizon's two ends,
azimuth and elevation of the sun (azimuth clockwise from straight ahead), its width, light in the sun over light in the shade on level ground in EV, and stakes: foot, top and tip of
the shadow in px. Pixel centres are integers.
"""
import json
import os
import subprocess
import sys

sys.path.insert(0, os.path.dirname(os.path.abspath(__file__)))
from camera import load_exr, save_jpeg, sensor  # noqa: E402
from plateCamera import Camera, shade_of, towards, turn  # noqa: E402
import numpy as np  # noqa: E402

work, out = sys.argv[1], sys.argv[2]
first, last = (int(v) for v in sys.argv[3:5]) if len(sys.argv) > 4 else (0, 46)
os.makedirs(work, exist_ok=True)
os.makedirs(out, exist_ok=True)
W, H = 1200, 800
KINDS = [1] * 12 + [2] * 10 + [3] * 8 + [4] * 10 + [1, 1, 2, 2, 3, 3]
# from here on the sky is the only light
OVERCAST = 40
NAMES = {1: "sheds", 2: "boardwalk", 3: "jetty", 4: "room"}

truth = {}
for index, kind in enumerate(KINDS):
    rng = np.random.default_rng(7000 + index)
    u = rng.uniform
    fov = u(42, 72) if kind != 4 else u(55, 78)
    pitch, roll = {1: u(-10, 3), 2: u(-14, 0), 3: u(-13, -2), 4: u(-9, 7)}[kind], float(np.clip(rng.normal(0, 1.6), -4, 4))
    height = u(1.2, 2.2) if kind != 3 else u(1.3, 2.6)
    yaw = {1: u(18, 62) * rng.choice([-1, 1]), 2: u(-16, 16), 3: u(-18, 18), 4: u(-24, 24)}[kind]
    azimuth, elevation = u(-175, 175), u(16, 55)
    width = float(rng.choice([0.53, 0.53, 1.5, 3]))
    sun = u(1.6, 3.2) if kind != 4 else 0
    fill = u(0.2, 0.5)
    if index >= OVERCAST:
        sun, fill = 0, 2.2 * fill
    distance = u(11, 17)
    stakes = [[u(-2.6, -0.8), u(4.2, 5.5), u(0.5, 1.1)], [u(0.6, 2.4), u(4.5, 6.5), u(0.4, 1.2)]] if kind == 1 else [[u(-0.8, -0.2), u(4.2, 5), u(0.3, 0.7)], [u(0.2, 0.7), u(5.2, 6.5), u(0.4, 0.8)]]
    ratio, shade = shade_of(sun, elevation, fill)
    camera = Camera(fov, pitch, roll, height, (W, H))
    to_sun = towards(azimuth, elevation)
    marks = []
    if kind in (1, 3):
        for x, z, h in stakes:
            top = np.array([x, h, z])
            tip = top - to_sun * h / to_sun[1]
            places = [camera.place(p) for p in ([x, 0, z], top, tip)]
            inside = all(p is not None and 0 <= p[0] < W and 0 <= p[1] < H for p in places)
            on_boards = kind == 1 or abs((turn("y", -yaw) @ (tip - [0, 0, 1]))[0]) < 0.8
            if inside and on_boards:
                marks.append({"foot": places[0], "top": places[1], "tip": places[2], "heightM": h})
    name = f"{NAMES[kind] if index < OVERCAST else 'overcast'}-{index:02d}.jpg"
    truth[name] = {"kind": NAMES[kind], "fovDeg": fov, "focalPx": camera.focal, "pitchDeg": pitch, "rollDeg": roll, "cameraHeightM": height, "horizon": camera.horizon(),
                   "sun": None if sun == 0 else {"azimuthDeg": azimuth, "elevationDeg": elevation, "widthDeg": width, "ratioEv": ratio, "shade": shade},
                   "stakes": marks}
    if not first <= index < last:
        continue
    folder = f"{work}/{index}"
    os.makedirs(folder, exist_ok=True)
    with open(f"{folder}/stakes.inc", "w") as f:
        rows = ",".join("{" + ",".join(f"{v:.5f}" for v in s) + "}" for s in stakes)
        f.write(f"#declare Stakes=array[{len(stakes)}][3]{{{rows}}}\n")
    exr = f"{folder}/plate.exr"
    if not os.path.exists(exr):
        values = dict(KIND=kind, SEED=7000 + index, HF=fov, PITCH=pitch, ROLL=roll, H=height, YAW=yaw, AZ=azimuth, EL=elevation, SUNDEG=width, SUN=sun, FILL=fill, DIST=distance)
        values |= {"DOME": 40} if index >= OVERCAST else {}
        subprocess.run(["povray", "+Iplate.pov", f"+L{os.path.abspath(folder)}", f"+O{os.path.abspath(exr)}", "+FE", f"+W{W}", f"+H{H}", "-D", "-V", "+WT1", "+A0.3", "+AM2", "+R2"]
                       + [f"Declare={k}={v}" for k, v in values.items()], check=True, cwd=os.path.join(os.path.dirname(os.path.abspath(__file__)), "pov"), stderr=subprocess.DEVNULL)
    light = np.minimum(load_exr(exr), 20)
    save_jpeg(f"{out}/{name}", sensor(light, 0.42 / np.percentile(light.mean(-1), 75), rng), rng, 86)
    print(name, os.path.getsize(f"{out}/{name}") // 1024, "KB", flush=True)
json.dump(truth, open(f"{out}/truth.json", "w"), indent=1)
