"""Pairs of frames of scenes that repeat themselves, with known shifts, for the reference checks.

/usr/bin/python3 tests/support/repeated.py OUT EACH [sift]    every EACHth pair as PNG; prints [{name, a, b, homography a -> b, unique, sift}]
A scene is one cell, repeated (made by code, or cut from one of Debian's photographs), and a part of it, 0 to 40 % of the frame, shows a photograph instead.
"sift" is the mean error of SIFT with RANSAC of the same OpenCV, px, or null. Frames are linear light with shot and read noise, encoded with a power of 1/2.2.
"""
import json
import os
import sys

import cv2
import numpy as np

from features import sift_error

PHOTOS = "/usr/share/backgrounds"
W, H, MARGIN = 1080, 720, 520


def photograph(name, side):
    picture = cv2.imread(f"{PHOTOS}/{name}")
    scale = side / min(picture.shape[:2])
    return (cv2.resize(picture, None, fx=scale, fy=scale, interpolation=cv2.INTER_AREA if scale < 1 else cv2.INTER_CUBIC) / 255.0) ** 2.2 * 0.6


def tiles(p, rng):
    cell = np.full((p, p, 3), (0.30, 0.33, 0.36))
    grout = max(2, p // 14)
    y, x = np.mgrid[0:p, 0:p] / p
    cell *= (0.8 + 0.25 * x + 0.15 * y * y)[..., None]
    cell *= 1 + 0.05 * cv2.GaussianBlur(rng.normal(0, 3, (p, p, 1)), (0, 0), max(1.0, p / 40))[..., None]
    cell[:grout] = cell[:, :grout] = 0.09
    return cell


def windows(p, rng):
    h = int(p * 1.3)
    cell = np.full((h, p, 3), (0.22, 0.27, 0.33))
    cell *= 1 + 0.04 * rng.normal(0, 1, (h, p, 1))
    a, b, c, d = int(h * 0.2), int(h * 0.75), int(p * 0.25), int(p * 0.75)
    cell[a:b, c:d] = 0.5
    t = max(2, p // 20)
    cell[a + t : b - t, c + t : d - t] = np.linspace(0.03, 0.12, b - a - 2 * t)[:, None, None]
    cell[a:b, (c + d) // 2 - t // 2 : (c + d) // 2 + t // 2 + 1] = 0.5
    cell[(2 * a + b) // 3 : (2 * a + b) // 3 + t, c:d] = 0.5
    cell[b : b + 2 * t, c - t : d + t] = 0.55
    return cell


def railing(p, rng):
    h = 560
    cell = np.full((h, p, 3), (0.45, 0.42, 0.38))
    cell *= np.linspace(1.1, 0.6, h)[:, None, None]
    w = max(3, p // 5)
    bar = 0.05 + 0.1 * np.sin(np.linspace(0, np.pi, w)) ** 2
    cell[40:-40, p // 3 : p // 3 + w] = bar[None, :, None]
    cell[60:80] = 0.07
    cell[-80:-56] = 0.07
    return cell


def cut(name):
    def cell(p, rng):
        picture = photograph(name, 700)
        y, x = rng.integers(0, picture.shape[0] - p), rng.integers(0, picture.shape[1] - p)
        return picture[y : y + p, x : x + p] + 0.02

    return cell


CELLS = {
    "tiles": tiles,
    "windows": windows,
    "railing": railing,
    "cut from a bridge": cut("Bridge_by_Sander_Klootwijk.jpg"),
    "cut from a pattern": cut("analogpattern_by_Peter_Nerlich.jpg"),
}
PHOTO = ["Picture_1A_by_freespace.jpg", "aitzgorri_by_Aitzol_Berasategi.jpg", "picosdeeuropa_by_Aitzol_Berasategi.jpg"]
SHIFTS = [0.1, 0.45, 0.6, 1.0, 1.7, 2.6, 5.0]


def corpus():
    pairs = []
    for kind in CELLS:
        for period in (36, 80, 150):
            for unique in (0.0, 0.1, 0.25, 0.4):
                for shift in SHIFTS:
                    if shift * period > 420:
                        continue
                    for uneven in (0.0, 0.03) if unique in (0.0, 0.1) else (0.0,):
                        pairs.append((kind, period, unique, shift, uneven))
    return pairs


def scene_of(kind, period, unique, uneven, along, rng):
    cell = CELLS[kind](period, rng)
    h, w = H + 2 * MARGIN, W + 2 * MARGIN
    rows, columns = h // cell.shape[0] + 2, w // cell.shape[1] + 2
    scene = np.tile(cell, (rows, columns, 1))
    if uneven:
        light = rng.normal(1, uneven, (rows, columns, 1))
        scene *= np.kron(light[..., 0], np.ones(cell.shape[:2]))[..., None]
    scene = scene[:h, :w].copy()
    if unique:
        # where both frames see it: the second shows what lies so far to the left
        left, right = int(max(0, -along)) + 20, int(min(W, W - along)) - 20
        side = np.sqrt(unique * W * H / 1.5)
        ph = int(side)
        pw = min(int(side * 1.5), right - left - 10)
        y, x = MARGIN + rng.integers(60, H - ph - 20), MARGIN + rng.integers(left, right - pw)
        scene[y : y + ph, x : x + pw] = photograph(PHOTO[int(rng.integers(3))], 720)[40 : 40 + ph, 40 : 40 + pw]
    return scene


def shoot(scene, matrix, ev, path, rng):
    light = cv2.warpPerspective(scene, matrix @ np.array([[1, 0, -MARGIN], [0, 1, -MARGIN], [0, 0, 1.0]]), (W, H), flags=cv2.INTER_CUBIC) * 2.0**ev
    electrons = np.clip(light, 0, 4) * 6000
    noisy = (rng.poisson(np.maximum(electrons, 0)) + rng.normal(0, 4, electrons.shape)) / 6000
    cv2.imwrite(path, np.clip(np.clip(noisy, 0, 1) ** (1 / 2.2) * 255 + 0.5, 0, 255).astype(np.uint8))


# once taken for sure although periods off: windows of 80 px, with nothing unique, shifted by one period; and with 40 % unique, by five
ALWAYS = [168, 203]

out, each = sys.argv[1], int(sys.argv[2])
os.makedirs(out, exist_ok=True)
made = []
for i, (kind, period, unique, shift, uneven) in enumerate(corpus()):
    if i % each and i not in ALWAYS:
        continue
    rng = np.random.default_rng(i)
    along = shift * period * rng.choice([-1, 1])
    scene = scene_of(kind, period, unique, uneven, along, rng)
    a = np.radians(rng.uniform(-0.4, 0.4))
    across = rng.uniform(-0.2, 0.2) * period
    centre = np.array([[1, 0, -(W - 1) / 2], [0, 1, -(H - 1) / 2], [0, 0, 1]])
    turn = np.array([[np.cos(a), -np.sin(a), along], [np.sin(a), np.cos(a), across], [0, 0, 1]])
    truth = np.linalg.inv(centre) @ turn @ centre
    files = [f"{out}/{i}_{n}.png" for n in "ab"]
    shoot(scene, np.eye(3), 0, files[0], rng)
    shoot(scene, truth, float(rng.choice([-1, 0, 1])) * 0.7, files[1], rng)
    name = f"{kind}, {period} px, {unique:.0%} unique, {shift} periods" + (", uneven" if uneven else "")
    entry = {"name": name, "a": files[0], "b": files[1], "homography": truth.ravel().tolist(), "unique": unique, "sift": sift_error(*files, truth, 4000, 2) if "sift" in sys.argv else None}
    made.append(entry)
print(json.dumps(made))
