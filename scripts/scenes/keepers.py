"""Makes the demo job "Three keepers on the jetty": the jetty with one stake and its shadow, and three keepers, each taken by itself before grey paper.

/usr/bin/python3 scripts/scenes/keepers.py WORK OUT      WORK keeps the renders
The third keeper was lit from the other side. Truth: camera, sun, where each stands and how tall it is, and a picture in which they truly stand there.
"""
import json
import os
import sys

sys.path.insert(0, os.path.dirname(os.path.abspath(__file__)))
from camera import lens, save_jpeg, sensor  # noqa: E402
from exif import write_exif  # noqa: E402
from plateCamera import Camera, render, shade_of, towards  # noqa: E402
import numpy as np  # noqa: E402

work, out = sys.argv[1], sys.argv[2]
os.makedirs(work, exist_ok=True)
os.makedirs(out, exist_ok=True)
rng = np.random.default_rng(61)
W, H, OWN_W, OWN_H = 1500, 1000, 800, 1200
FOV, PITCH, ROLL, HEIGHT, AZ, EL, SUN, FILL = 54, -9.5, 0.6, 1.75, 128, 36, 2.4, 0.38
STAKE, STAKE_HEIGHT = [0.55, 3.9], 0.6
KEEPERS = [(2, 0.1, 4.6, 15), (3, 1.0, 6.0, -20), (4, 0.75, 8.6, 30)]
TALL = {2: 1.05, 3: 0.92, 4: 0.92}
camera, sun_way = Camera(FOV, PITCH, ROLL, HEIGHT, (W, H)), towards(AZ, EL)
with open(f"{work}/stakes.inc", "w") as f:
    f.write(f"#declare Stakes=array[1][3]{{{{{STAKE[0]},{STAKE[1]},{STAKE_HEIGHT}}}}}\n")
with open(f"{work}/all.inc", "w") as f:
    f.writelines(f"object{{Thing({n}) rotate y*{turned} translate <{x},0,{z}>}}\n" for n, x, z, turned in KEEPERS)
place = dict(KIND=3, SEED=6104, HF=FOV, PITCH=PITCH, ROLL=ROLL, H=HEIGHT, YAW=6, AZ=AZ, EL=EL, SUNDEG=0.53, SUN=SUN, FILL=FILL, DIST=15, DOME=24, MOWN=1)
plate, held = (np.minimum(render(work, name, (W, H), {**place, **more}), 20) for name, more in (("plate", {}), ("with", {"ALL": 1})))
exposure = 0.42 / np.percentile(plate.mean(-1), 75)
frames = [(plate, "1/200", 8, round(18 / np.tan(np.radians(FOV / 2))))]
for n, x, z, turned in KEEPERS:
    far = np.hypot(x, z)
    fov = np.degrees(2 * np.arctan(TALL[n] / 0.8 / 2 / far * OWN_W / OWN_H))
    # lit from the other side: the sun mirrored about the way the camera looks
    azimuth = AZ if n < 4 else 2 * np.degrees(np.arctan2(x, z)) - AZ
    values = {**place, "KIND": 0, "HF": fov, "AZ": azimuth, "THING": n, "TX": x, "TZ": z, "TURN": turned, "LOOKX": x, "LOOKY": TALL[n] / 2, "LOOKZ": z, "PAPER": 0.16}
    frames.append((np.minimum(render(work, f"keeper{n}", (OWN_W, OWN_H), values), 20), "1/250", 5.6, round(18 / np.tan(np.radians(fov / 2)))))
for index, (light, shutter, aperture, focal) in enumerate(frames, 1):
    path = f"{out}/keepers-{index}.jpg"
    save_jpeg(path, sensor(lens(light, veil=0.001, bloom=0.002, falloff=0.1, lateral=0), exposure, rng), rng, 90)
    write_exif(path, shutter, aperture, 100, focal, f"2026:09:21 16:{10 + 3 * index:02d}:20", 11 * index, FocalLengthIn35mmFormat=focal)
    print(path, os.path.getsize(path) // 1024, "KB", flush=True)
save_jpeg(f"{out}/truth.jpg", sensor(lens(held, veil=0.001, bloom=0.002, falloff=0.1, lateral=0), exposure, rng), rng, 90)
stake = np.array([STAKE[0], 0, STAKE[1]])
top = stake + [0, STAKE_HEIGHT, 0]
ratio, _ = shade_of(SUN, EL, FILL)
json.dump({"focalPx": camera.focal, "cameraHeightM": HEIGHT, "horizon": camera.horizon(), "sun": {"azimuthDeg": AZ, "elevationDeg": EL, "ratioEv": ratio},
           "stake": {"foot": camera.place(stake), "top": camera.place(top), "tip": camera.place(top - sun_way * STAKE_HEIGHT / sun_way[1]), "heightM": STAKE_HEIGHT},
           "keepers": [{"foot": camera.place(np.array([x, 0, z])), "metres": TALL[n], "distanceM": float(np.hypot(x, z))} for n, x, z, _ in KEEPERS]},
          open(f"{out}/truth.json", "w"), indent=1)
