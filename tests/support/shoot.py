"""One day's mixed card of 87 files with known sets, simulated from Debian's photographs, for the check of grouping.

/usr/bin/python3 tests/support/shoot.py OUT   JPEG files with EXIF in OUT; prints [{kind, files}] in the order shot
Frames are linear light with shot and read noise, encoded with a power of 1/2.2. Sky frames are drawn, not photographed.
"""
import json
import sys

import cv2
import numpy as np
from PIL import Image
from PIL.TiffImagePlugin import IFDRational

PHOTOS = "/usr/share/backgrounds"
OUT = sys.argv[1]
W, H = 900, 600
rng = np.random.default_rng(11)
number = 0
clock = 9 * 3600.0
sets = []


def photo(name, side):
    picture = cv2.imread(f"{PHOTOS}/{name}")
    scale = side / max(picture.shape[:2])
    picture = cv2.resize(picture, None, fx=scale, fy=scale, interpolation=cv2.INTER_AREA)
    return (picture[:, :, ::-1] / 255.0) ** 2.2


def view(scene, x, y, degrees=0.0, scale=1.0):
    """The frame around (x, y) of the scene."""
    m = cv2.getRotationMatrix2D((x, y), degrees, scale)
    m[:, 2] += (W / 2 - x, H / 2 - y)
    return cv2.warpAffine(scene.astype(np.float32), m, (W, H), flags=cv2.INTER_CUBIC, borderMode=cv2.BORDER_REFLECT)


def middle(scene, jitter=0.0, **how):
    h, w = scene.shape[:2]
    dx, dy = rng.normal(0, jitter, 2) if jitter else (0, 0)
    return view(scene, w / 2 + dx, h / 2 + dy, **how)


def expose(light, ev=0.0):
    electrons = np.clip(light * 0.5 * 2.0**ev, 0, 4) * 9000
    noisy = (rng.poisson(electrons) + rng.normal(0, 5, electrons.shape)) / 9000
    return np.round(np.clip(noisy, 0, 1) ** (1 / 2.2) * 255).astype(np.uint8)


def save(pixels, seconds=1 / 60, aperture=8, iso=100, focal=35, pause=2.0, at=None):
    """Writes one frame as the camera would, some seconds after the one before."""
    global number, clock
    number += 1
    clock = clock + pause if at is None else at
    name = f"wren-{number:04d}.jpg"
    exif = Image.Exif()
    exif[271], exif[272] = "Wrenfold", "Sedge One"
    days, rest = divmod(clock, 86400)
    hours, rest = divmod(rest, 3600)
    exif[0x8769] = {
        33434: IFDRational(round(seconds * 10000), 10000),
        33437: IFDRational(round(aperture * 10), 10),
        34855: iso,
        37386: IFDRational(focal, 1),
        36867: f"2026:09:{int(18 + days)} {int(hours):02d}:{int(rest // 60):02d}:{int(rest % 60):02d}",
        37521: f"{int(clock % 1 * 100):02d}",
    }
    Image.fromarray(pixels).save(f"{OUT}/{name}", quality=93, exif=exif.tobytes())
    return name


def shot(kind, files):
    sets.append({"kind": kind, "files": files})
    global clock
    clock += 240


def bracket(scene, steps, jitter=3.0):
    shot("bracket", [save(expose(middle(scene, jitter), ev), seconds=2.0**ev / 60, pause=0.6) for ev in steps])


def panorama(scene, count, overlap=0.4):
    h, w = scene.shape[:2]
    step = W * (1 - overlap)
    x0 = w / 2 - step * (count - 1) / 2
    shot("panorama", [save(expose(view(scene, x0 + i * step, h / 2 + rng.normal(0, 4), rng.normal(0, 0.3))), pause=4) for i in range(count)])


def focus(scene, count):
    """Depth runs from the lower to the upper edge; blur grows away from the plane in focus, framing shrinks by 1.2 %."""
    frames = []
    depth = np.linspace(1, 0, H)[:, None, None]
    for k in range(count):
        light = middle(scene, scale=1 + 0.012 * k / (count - 1))
        levels = [light] + [cv2.GaussianBlur(light, (0, 0), s) for s in (1, 2, 4, 6)]
        blur = np.clip(np.abs(depth - k / (count - 1)) * 12 - 0.8, 0, 3.999)
        out = np.zeros_like(light)
        for i in range(4):
            share = np.clip(1 - np.abs(blur - i), 0, 1) if i else np.clip(1 - blur, 0, 1)
            out += levels[i] * share
        out += levels[4] * np.clip(blur - 3, 0, 1)
        frames.append(save(expose(out), aperture=5.6, focal=90, pause=3))
    shot("focus", frames)


def repeats(scene, count):
    shot("repeats", [save(expose(middle(scene), 0), iso=1600, pause=1.5) for _ in range(count)])


def separate(scene, lights):
    """Light from one side after another over an hour, the tripod bumped a little."""
    files = []
    ramp = np.linspace(-1, 1, W)[None, :, None]
    for side, tint, seconds in lights:
        light = middle(scene, 3) * 2.0 ** (1.1 * side * ramp) * np.array(tint)
        files.append(save(expose(light), seconds=seconds, pause=420))
    shot("separate", files)


def sky(count, shift, at):
    """A star field that drifts, noise, and a gradient."""
    field = np.random.default_rng(3)
    stars = [(field.uniform(0, W + 200), field.uniform(0, H), 10 ** field.uniform(-1.5, 0.2)) for _ in range(350)]
    files = []
    y, x = np.mgrid[0:H, 0:W]
    for k in range(count):
        light = np.repeat((0.01 + 0.006 * y / H)[:, :, None], 3, 2).astype(np.float64)
        for sx, sy, flux in stars:
            cx, cy = sx - k * shift - 60, sy + k * shift * 0.2
            if not (4 < cx < W - 5 and 4 < cy < H - 5):
                continue
            box = np.s_[int(cy) - 4 : int(cy) + 5, int(cx) - 4 : int(cx) + 5]
            light[box] += flux * np.exp(-((x[box] - cx) ** 2 + (y[box] - cy) ** 2) / (2 * 1.0**2))[:, :, None]
        files.append(save(expose(light, 1), seconds=120, aperture=2.8, iso=1600, focal=50, at=at + k * 125))
    shot("sky", files)


def single(scene):
    shot("single", [save(expose(middle(scene)))])


def cutout(thing, plate):
    light = np.full((H, W, 3), 0.62)
    cut = middle(thing)
    y, x = np.mgrid[0:H, 0:W]
    inside = ((x - W / 2) / 150) ** 2 + ((y - H / 2) / 220) ** 2 < 1
    light[inside] = cut[inside]
    shot("cutout", [save(expose(light)), save(expose(middle(plate)))])


def developed(scene):
    light = expose(middle(scene)) / 255.0
    first = save((light * 255).astype(np.uint8))
    second = save(np.round(np.clip(light**2.2 * 3, 0, 1) ** (1 / 2.2) * 255).astype(np.uint8), at=clock)
    shot("developed", [first, second])


picos = photo("picosdeeuropa_by_Aitzol_Berasategi.jpg", 1500)
life = photo("life_by_Aitzol_Berasategi.jpg", 1200)
sunset = photo("sunset_by_Aitzol_Berasategi.jpg", 1200)
wide = photo("picosdeeuropa_by_Aitzol_Berasategi.jpg", 3264)
green = photo("greentock_by_Peter_Nerlich.jpg", 1200)
free = photo("free_by_Peter_Nerlich.jpg", 1200)
ridge = photo("aitzgorri_by_Aitzol_Berasategi.jpg", 3088)
aitz = photo("aitzgorri_by_Aitzol_Berasategi.jpg", 1200)
bridge = photo("Bridge_by_Sander_Klootwijk.jpg", 1200)
picture = photo("Picture_0B_by_freespace.jpg", 1200)
one = photo("Picture_1A_by_freespace.jpg", 1200)
dragonfly = photo("Dragonfly_by_Bolly.jpg", 1200)

single(bridge)
bracket(picos, (-2, 0, 2))
bracket(picos, (-2, 0, 2))
bracket(aitz, (0, -2, 2, -4, 4))
panorama(wide, 5)
single(one)
focus(green, 7)
repeats(free, 7)
separate(life, ((-1, (1, 1, 1), 1 / 60), (1, (1.2, 1, 0.7), 1 / 15), (0.2, (0.8, 0.95, 1.3), 1 / 4), (-0.4, (1.1, 1, 0.8), 1 / 8)))
bracket(sunset, (-5, -3, -1, 1, 3))
developed(picture)
panorama(ridge, 5, 0.5)
bracket(life, (-1, 0, 1))
cutout(dragonfly, bridge)
repeats(aitz, 10)
focus(picture, 5)
single(sunset)
sky(9, 1.4, 22 * 3600)
sky(8, 1.4, 22 * 3600 + 23 * 3600.0)
single(free)
print(json.dumps(sets))
