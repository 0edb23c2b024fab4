"""What comes into two plates of the marsh: a moon through a long lens, a storm's sky as a wider lens sees it, and one stroke of lightning: demo/moon and demo/storm.

/usr/bin/python3 scripts/scenes/moonAndStorm.py WORK OUT      WORK keeps the renders, OUT is demo
The moon is a ball of noise with craters, lit from the right; the storm is pov/plate.pov without any land. The plates are frames of the creek and of the pump house.
"""
import os
import sys

sys.path.insert(0, os.path.dirname(os.path.abspath(__file__)))
from camera import save_jpeg, sensor  # noqa: E402
from exif import write_exif  # noqa: E402
from plateCamera import render  # noqa: E402
import cv2  # noqa: E402
import numpy as np  # noqa: E402

work, out = sys.argv[1], sys.argv[2]
os.makedirs(work, exist_ok=True)
rng = np.random.default_rng(77)


def clouds(size, octaves, seed):
    """Noise whose detail halves from octave to octave, -1..1."""
    own = np.random.default_rng(seed)
    total = np.zeros(size, np.float32)
    for k in range(octaves):
        grid = own.uniform(-1, 1, (4 * 2**k + 3, 4 * 2**k + 3)).astype(np.float32)
        total += cv2.resize(grid, size[::-1], interpolation=cv2.INTER_CUBIC) / 1.7**k
    return total / np.abs(total).max()


def moon():
    w, h, r = 1200, 800, 270
    y, x = np.mgrid[0:h, 0:w].astype(np.float32)
    u, v = (x - w / 2 + 0.5) / r, (y - h / 2 + 0.5) / r
    inside = u * u + v * v < 1
    z = np.sqrt(np.maximum(0, 1 - u * u - v * v))
    # dark plains, and a surface that is rough with craters
    albedo = 0.11 - 0.045 * np.clip(2.2 * clouds((h, w), 5, 5) + 0.2, 0, 1)
    height = 0.012 * clouds((h, w), 7, 6)
    for _ in range(420):
        cx, cy, size = rng.uniform(-1, 1), rng.uniform(-1, 1), 0.012 + 0.06 * rng.power(0.25) * rng.uniform(0, 1) ** 3
        away = np.hypot(u - cx, v - cy) / size
        height += 0.13 * size * (np.exp(-((away - 1) ** 2) / 0.06) - 0.9 * np.exp(-(away**4))) * (away < 3)
        albedo += 0.012 * np.exp(-(away**2)) * (away < 3)
    gy, gx = np.gradient(height * r)
    normal = np.dstack([u - 0.9 * gx, v - 0.9 * gy, z])
    normal /= np.linalg.norm(normal, axis=2, keepdims=True)
    sun = np.array([0.80, -0.12, 0.58])
    facing = np.dstack([u, v, z]) @ sun
    lit = np.maximum(0, normal @ (sun / np.linalg.norm(sun))) * np.clip(1 + 8 * facing, 0, 1)
    # seen from afar dust throws light back more evenly than a matt surface does
    light = albedo * lit**0.7 * 9
    edge = np.clip((1 - np.hypot(u, v)) * r + 0.5, 0, 1)
    return (light * inside * edge)[..., None] * np.float32([1, 0.97, 0.92])


def lightning():
    w, h = 1800, 1200
    picture = np.zeros((h, w), np.float32)

    def stroke(x, y, angle, length, width, depth):
        while length > 0:
            step = rng.uniform(12, 34)
            bend = angle + rng.normal(0, 0.5)
            nx, ny = x + step * np.sin(bend), y + step * np.cos(bend)
            cv2.line(picture, (int(x * 8), int(y * 8)), (int(nx * 8), int(ny * 8)), float(width), max(1, int(round(width))), cv2.LINE_AA, 3)
            if depth < 3 and rng.uniform() < 0.16:
                stroke(nx, ny, angle + rng.uniform(0.4, 0.9) * rng.choice([-1, 1]), length * rng.uniform(0.2, 0.5), width * 0.5, depth + 1)
            x, y, length = nx, ny, length - step

    stroke(1180, -10, -0.12, 900, 5, 0)
    near, far = cv2.GaussianBlur(picture, (0, 0), 6), cv2.GaussianBlur(picture, (0, 0), 60)
    return (2.5 * picture + 0.5 * near + 0.5 * far)[..., None] * np.float32([0.82, 0.86, 1])


os.makedirs(f"{out}/moon", exist_ok=True)
os.makedirs(f"{out}/storm", exist_ok=True)
save_jpeg(f"{out}/moon/moon-1.jpg", sensor(moon(), 0.8, rng), rng, 92)
write_exif(f"{out}/moon/moon-1.jpg", "1/250", 8, 200, 600, "2026:09:23 20:14:05", 31, FocalLengthIn35mmFormat=600)
with open(f"{work}/sky.inc", "w") as f:
    f.write("#declare SkyLight=<1,1,1>; #declare SkyLow=<.46,.5,.52>; #declare SkyMiddle=<.24,.27,.31>; #declare SkyHigh=<.1,.12,.15>; #declare Cloud=<.13,.15,.18>;\n")
sky = render(work, "storm", (1800, 1200), dict(KIND=0, SEED=9, HF=66, PITCH=24.2, ROLL=0, H=1.6, YAW=0, AZ=0, EL=45, SUNDEG=1, SUN=0, FILL=0.3, DIST=12, OTHERSKY=1, SKYSEED=6))
# heavier where clouds are thick
light = cv2.GaussianBlur(sky, (0, 0), 1.2) * (1 + 0.35 * clouds((1200, 1800), 6, 3))[..., None]
save_jpeg(f"{out}/storm/storm-1.jpg", sensor(np.maximum(light, 0), 1.0, rng), rng, 90)
write_exif(f"{out}/storm/storm-1.jpg", "1/80", 8, 100, 24, "2026:09:24 18:31:40", 12, FocalLengthIn35mmFormat=24)
save_jpeg(f"{out}/storm/storm-2.jpg", sensor(lightning(), 0.5, rng), rng, 90)
write_exif(f"{out}/storm/storm-2.jpg", "2", 8, 100, 35, "2026:09:24 18:36:02", 44, FocalLengthIn35mmFormat=35)
