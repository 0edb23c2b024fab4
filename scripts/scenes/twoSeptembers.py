"""Makes the demo jobs "Two Septembers" and "Far bank in haze" from the render of the marsh, and their truth. Channels are blue, green, red, as OpenCV reads them; the truth tells red first.

Run at development time with Debian's Python:  /usr/bin/python3 scripts/scenes/twoSeptembers.py RENDERS DEMO
RENDERS holds marsh_2496.exr and marsh_2496_d150.exr (see scripts/scenes/README.md).
"""
import json
import os
import sys

sys.path.insert(0, os.path.dirname(os.path.abspath(__file__)))
from camera import *  # noqa: F403,E402
from exif import write_exif  # noqa: E402
import cv2  # noqa: E402
import numpy as np  # noqa: E402

renders, demo = sys.argv[1], sys.argv[2]
W, H = 1800, 1200
WIDE = 1.08
rng = np.random.default_rng(9)

whole = load_exr(f"{renders}/marsh_2496.exr")
depth_of = load_depth(f"{renders}/marsh_2496_d150.exr", 150)
sky_of = load_exr(f"{renders}/marsh_2496_d150.exr")[..., 1] >= 0.9985
sw, sh = int(W * WIDE), int(H * WIDE)
radiance, depth = (cv2.resize(v, (sw, sh), interpolation=cv2.INTER_AREA) for v in (np.minimum(whole, 5e4), depth_of))
sky = cv2.resize(sky_of.astype(np.float32), (sw, sh), interpolation=cv2.INTER_AREA)
base = 0.8 * 0.18 / np.percentile(radiance[int(sh * 0.55) :], 55) / 4
offset = np.array([[1, 0, -(sw - W) / 2], [0, 1, -(sh - H) / 2], [0, 0, 1]])


def shot(scene, matrix):
    return np.maximum(cv2.warpPerspective(scene, matrix, (W, H), flags=cv2.INTER_CUBIC, borderMode=cv2.BORDER_REFLECT), 0)


# --- Two Septembers: this year's white balance was left at lamplight, last year's picture was finished with another
folder = f"{demo}/septembers"
os.makedirs(folder, exist_ok=True)
scene = lens(radiance)
# a camera holds its gains at 1 and more, so that what is white to the sensor is white in the picture
FORGOTTEN = np.array([1.62, 1.0, 0.63], np.float32) / 0.63
shots = [(-2, "1/125", (0.18, 9.0, -6.0)), (0, "1/30", (0.0, 0.0, 0.0)), (2, "1/8", (-0.22, -11.0, 7.0))]
for index, (ev, label, spec) in enumerate(shots, 1):
    light = sensor(shot(scene, pose(W, H, *spec) @ offset), 0.63 * base * 2.0**ev, rng) * FORGOTTEN
    save_jpeg(f"{folder}/septembers-{index}.jpg", np.clip(light, 0, 1), rng)
    write_exif(f"{folder}/septembers-{index}.jpg", label, 8, 100, 24, f"2026:09:20 18:41:{20 + index:02d}", 11 * index, ExposureCompensation=ev)


def finished(linear):
    """Last year's finish: warmer, channels mixed as another camera does, a curve with a toe and a shoulder, another exponent for blue."""
    matrix = np.array([[1.08, -0.05, -0.03], [-0.03, 1.06, -0.03], [0.01, -0.08, 1.07]])
    x = np.maximum((linear * [0.86, 1.0, 1.12]) @ matrix.T, 0) * 2.0**1.7
    x = x * (1 + x / 3.2**2) / (1 + x)
    return np.clip(x, 0, 1) ** np.array([1.06, 1.0, 1.0]) * 0.97 + 0.004


clean = scene * base
LAST = pose(W, H, 0.7, 26.0, -15.0, 1.012) @ offset
save_jpeg(f"{folder}/septembers-4.jpg", finished(shot(clean, LAST)), rng)
write_exif(f"{folder}/septembers-4.jpg", "1/30", 8, 100, 24, "2025:09:21 18:38:07", 40)
cv2.imwrite(f"{folder}/wanted.jpg", np.round(255 * encode_srgb(cv2.resize(finished(shot(clean, offset)), (W // 2, H // 2), interpolation=cv2.INTER_AREA))).astype(np.uint8),
            [cv2.IMWRITE_JPEG_QUALITY, 95])
json.dump({"size": [W, H], "lastToReference": (offset @ np.linalg.inv(LAST)).tolist(), "forgotten": (FORGOTTEN / FORGOTTEN[1])[::-1].tolist(), "wanted": "as the finish of last year makes this year's second frame, half the size"},
          open(f"{folder}/truth.json", "w"), indent=1)

# --- Far bank in haze: air that hides blue more than red, and shines with the sky behind it
folder = f"{demo}/haze"
os.makedirs(folder, exist_ok=True)
BETA = np.array([1 / 66, 1 / 80, 1 / 92], np.float32)
exposure = base * 2.0**1.3
row = int(sh * 0.40)
AIR = np.array(radiance[row - 24 : row].mean((0, 1)), np.float32)
AIR = AIR / AIR.mean() * 0.42 / exposure
through = np.exp(-np.minimum(depth, 2e4)[..., None] * BETA) * (1 - sky[..., None])
hazy = np.minimum(radiance, 3 / exposure) * through + AIR * (1 - through)
hazy = np.where(sky[..., None] > 0.5, 0.35 * np.minimum(radiance, 3 / exposure) + 0.65 * AIR, hazy)
light = shot(hazy, offset)
save_jpeg(f"{folder}/haze-1.jpg", sensor(light, exposure, rng, full_well=30000), rng)
write_exif(f"{folder}/haze-1.jpg", "1/60", 8, 100, 24, "2026:09:23 07:12:44", 55)
far = cv2.warpPerspective(depth, offset, (W, H), flags=cv2.INTER_NEAREST)
is_sky = cv2.warpPerspective(sky, offset, (W, H)) > 0.02
code = np.where(is_sky, 255, np.clip(np.round(63.5 * np.log10(np.maximum(far, 1))), 0, 254)).astype(np.uint8)
cv2.imwrite(f"{folder}/depth.png", code[::2, ::2])
json.dump({"size": [W, H], "attenuationPerM": BETA[::-1].tolist(), "airlight": (AIR * exposure)[::-1].tolist(),
           "depth": "63.5 · lg(metres), 255 is the sky; every second px of every second row"}, open(f"{folder}/truth.json", "w"), indent=1)
