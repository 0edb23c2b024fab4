"""Makes pairs of frames with a known relation from Debian's photographs, for the reference checks and benchmarks.

/usr/bin/python3 tests/support/pairs.py known OUT      pairs a/b as PNG and list.json: {name, homography a -> undistorted b, k1, ev}
/usr/bin/python3 tests/support/pairs.py unrelated OUT  N pictures of different scenes as PNG and list.json
/usr/bin/python3 tests/support/pairs.py hard OUT       pairs where most changed, with much noise, blur, scale or exposure between them, and what SIFT with RANSAC makes of them
/usr/bin/python3 tests/support/pairs.py graf OUT       OpenCV's published pair with its homography
Frames are linear light with shot and read noise, encoded with a power of 1/2.2; the lens is r' = r (1 + k1 r^2), r in half-diagonals.
"""
import json
import os
import sys

import cv2
import numpy as np

from features import sift_error

PHOTOS = "/usr/share/backgrounds"
EXAMPLES = "/usr/share/doc/opencv-doc/examples/data"
W, H = 1350, 900
CENTRE = np.array([[1, 0, -(W - 1) / 2], [0, 1, -(H - 1) / 2], [0, 0, 1]])
rng = np.random.default_rng(5)


def linear(name, side):
    picture = cv2.imread(f"{PHOTOS}/{name}")
    scale = side / max(picture.shape[:2])
    picture = cv2.resize(picture, None, fx=scale, fy=scale, interpolation=cv2.INTER_AREA if scale < 1 else cv2.INTER_CUBIC)
    return (picture / 255.0) ** 2.2 * 0.5


def view(degrees, scale, tx, ty, px=0.0, py=0.0):
    a = np.radians(degrees)
    turn = np.array([[scale * np.cos(a), -scale * np.sin(a), tx], [scale * np.sin(a), scale * np.cos(a), ty], [px, py, 1]])
    return np.linalg.inv(CENTRE) @ turn @ CENTRE


def shoot(scene, matrix, ev, path, k1=0.0, blur=0.0, moved=0):
    height, width = scene.shape[:2]
    if moved:
        # 17 % of the frame shows its neighbourhood instead
        bh, bw = int(H * 0.42), int(W * 0.41)
        y0, x0 = (height - bh) // 2, (width - bw) // 2
        other = scene.copy()
        other[y0 : y0 + bh, x0 : x0 + bw] = scene[y0 : y0 + bh, x0 + moved : x0 + moved + bw]
        scene = other
    y, x = np.mgrid[0:H, 0:W].astype(np.float64)
    if k1:
        cx, cy, half = (W - 1) / 2, (H - 1) / 2, np.hypot(W, H) / 2
        seen = np.hypot(x - cx, y - cy) / half
        r = seen.copy()
        for _ in range(30):
            r -= (r * (1 + k1 * r * r) - seen) / (1 + 3 * k1 * r * r)
        stretch = np.where(seen > 0, r / np.maximum(seen, 1e-12), 1)
        x, y = cx + (x - cx) * stretch, cy + (y - cy) * stretch
    to_scene = np.linalg.inv(matrix @ np.array([[1, 0, -((width - W) // 2)], [0, 1, -((height - H) // 2)], [0, 0, 1.0]]))
    q = to_scene @ np.stack([x.ravel(), y.ravel(), np.ones(x.size)])
    mx, my = [(q[k] / q[2]).reshape(H, W).astype(np.float32) for k in (0, 1)]
    light = cv2.remap(scene.astype(np.float32), mx, my, cv2.INTER_CUBIC, borderMode=cv2.BORDER_REFLECT) * 2.0**ev
    if blur:
        light = cv2.GaussianBlur(light, (0, 0), blur)
    electrons = np.clip(light, 0, 4) * 8000
    noisy = (rng.poisson(np.maximum(electrons, 0)) + rng.normal(0, 4, electrons.shape)) / 8000
    cv2.imwrite(path, np.clip(np.clip(noisy, 0, 1) ** (1 / 2.2) * 255 + 0.5, 0, 255).astype(np.uint8))


KNOWN = [
    # name, photograph, view, EV of b, EV of a, side of the scene, more
    ("turn 35 degrees", "Dragonfly_by_Bolly.jpg", (35, 1, 30, 10), 0.5, 0, 2800, {}),
    ("turn 178 degrees", "Picture_1A_by_freespace.jpg", (178, 1.02, -20, 14), -1, 0, 2600, {}),
    ("twice as large", "picosdeeuropa_by_Aitzol_Berasategi.jpg", (-14, 2.0, 40, 10), 1, 0, 2600, {}),
    ("half as large", "life_by_Aitzol_Berasategi.jpg", (-5, 0.52, 40, 10), 1, 0, 2900, {}),
    ("30 % overlap", "picosdeeuropa_by_Aitzol_Berasategi.jpg", (-3, 1.02, -880, -60), 0.3, 0, 3600, {}),
    ("6 EV apart", "aitzgorri_by_Aitzol_Berasategi.jpg", (1, 1.003, 14, -9), 3, -3, 2400, {}),
    ("17 % moving, a", "aitzgorri_by_Aitzol_Berasategi.jpg", (3, 1, 217, 30), 0, 0, 2800, {"blur": 1.2, "moved": 25}),
    ("17 % moving, b", "Picture_1A_by_freespace.jpg", (3, 1, 217, 30), 0, 0, 2800, {"blur": 1.2, "moved": 25}),
    ("defocused by 4 px", "aitzgorri_by_Aitzol_Berasategi.jpg", (0.6, 1.012, 16, -9), 0, 0, 2800, {"blur": 4}),
    ("breathing", "life_by_Aitzol_Berasategi.jpg", (0, 1.012, 0, 0), 0.2, 0, 2700, {"blur": 2}),
    ("barrel", "friends_by_Aitzol_Berasategi.jpg", (0.6, 1.002, 16, -9, 3e-6, 1e-6), 0.7, 0, 2700, {"k1": -0.06}),
    ("cushion", "picosdeeuropa_by_Aitzol_Berasategi.jpg", (0.6, 1.002, 16, -9, 3e-6, 1e-6), 0, 0, 2700, {"k1": 0.09}),
    ("strong barrel", "Picture_1A_by_freespace.jpg", (0.6, 1.002, 16, -9, 3e-6, 1e-6), 0.7, 0, 2700, {"k1": -0.12}),
    ("slight barrel", "Picture_0B_by_freespace.jpg", (0.6, 1.002, 16, -9, 3e-6, 1e-6), 0.7, 0, 2700, {"k1": -0.005}),
]


def known(out):
    entries = []
    for index, (name, photo, pose, ev, ev_a, side, more) in enumerate(KNOWN):
        scene = linear(photo, side)
        matrix = view(*pose)
        shoot(scene, np.eye(3), ev_a, f"{out}/{index}_a.png")
        shoot(scene, matrix, ev, f"{out}/{index}_b.png", **more)
        entries.append({"name": name, "file": index, "homography": (matrix / matrix[2, 2]).ravel().tolist(), "k1": more.get("k1", 0)})
    return entries


NEARLY_THERE = (0.6, 1.012, 16, -9)
HARD = [
    # name, photograph, view, what is done to b
    ("60 % changed, a", "aitzgorri_by_Aitzol_Berasategi.jpg", (2, 1.01, 60, 20), {"changed": 0.6}),
    ("60 % changed, b", "Picture_1A_by_freespace.jpg", (2, 1.01, 60, 20), {"changed": 0.6}),
    ("60 % changed, c", "friends_by_Aitzol_Berasategi.jpg", (2, 1.01, 60, 20), {"changed": 0.6}),
    ("12 % noise, a", "aitzgorri_by_Aitzol_Berasategi.jpg", (2, 1.01, 60, 20), {"noise": 0.12}),
    ("12 % noise, b", "life_by_Aitzol_Berasategi.jpg", (2, 1.01, 60, 20), {"noise": 0.12}),
    ("12 % noise, c", "Picture_1A_by_freespace.jpg", (2, 1.01, 60, 20), {"noise": 0.12}),
    ("scale 0.3, a", "life_by_Aitzol_Berasategi.jpg", (-5, 0.3, 40, 10), {}),
    ("scale 0.3, b", "picosdeeuropa_by_Aitzol_Berasategi.jpg", (-5, 0.3, 40, 10), {}),
    ("scale 3.3", "life_by_Aitzol_Berasategi.jpg", (-5, 3.3, 40, 10), {}),
    ("defocus 14 px, a", "aitzgorri_by_Aitzol_Berasategi.jpg", NEARLY_THERE, {"disc": 14}),
    ("defocus 14 px, b", "life_by_Aitzol_Berasategi.jpg", NEARLY_THERE, {"disc": 14}),
    ("defocus 14 px, c", "friends_by_Aitzol_Berasategi.jpg", NEARLY_THERE, {"disc": 14}),
    ("moved by 40 px while open, a", "aitzgorri_by_Aitzol_Berasategi.jpg", NEARLY_THERE, {"smear": 40}),
    ("moved by 40 px while open, b", "life_by_Aitzol_Berasategi.jpg", NEARLY_THERE, {"smear": 40}),
    ("6 EV more, a", "life_by_Aitzol_Berasategi.jpg", (1, 1.003, 14, -9), {"ev": 6}),
    ("6 EV more, b", "friends_by_Aitzol_Berasategi.jpg", (1, 1.003, 14, -9), {"ev": 6}),
]


def damaged(scene, changed=0.0, disc=0, smear=0):
    if changed:
        # this share of the cells shows another photograph
        height, width = scene.shape[:2]
        scene, cell = scene.copy(), 150
        other = cv2.resize(linear("Picture_0B_by_freespace.jpg", 2800), (width, height))
        cells = [(y, x) for y in range(0, height, cell) for x in range(0, width, cell)]
        for k in np.random.default_rng(3).permutation(len(cells))[: int(changed * len(cells))]:
            y, x = cells[k]
            scene[y : y + cell, x : x + cell] = other[y : y + cell, x : x + cell]
    if disc:
        reach = disc // 2 + 1
        kernel = np.clip(disc / 2 + 0.5 - np.hypot(*np.mgrid[-reach : reach + 1, -reach : reach + 1]), 0, 1)
        scene = cv2.filter2D(scene, -1, kernel / kernel.sum())
    if smear:
        kernel = np.zeros((smear, smear))
        cv2.line(kernel, (0, smear // 3), (smear - 1, smear * 2 // 3), 1.0)
        scene = cv2.filter2D(scene, -1, kernel / kernel.sum())
    return scene


def hard(out, every="1"):
    entries = []
    for index, (name, photo, pose, what) in list(enumerate(HARD))[:: int(every)]:
        scene = linear(photo, 2800) / (8 if "ev" in what else 1)
        matrix, a, b = view(*pose), f"{out}/{index}_a.png", f"{out}/{index}_b.png"
        shoot(scene, np.eye(3), 0, a)
        shoot(damaged(scene, **{k: v for k, v in what.items() if k not in ("ev", "noise")}), matrix, what.get("ev", 0), b)
        if "noise" in what:
            clean = cv2.imread(b).astype(np.float64)
            cv2.imwrite(b, np.clip(clean + np.random.default_rng(8).normal(0, what["noise"] * 255, clean.shape), 0, 255).astype(np.uint8))
        entries.append({"name": name, "file": index, "homography": (matrix / matrix[2, 2]).ravel().tolist(), "k1": 0, "features": sift_error(a, b, matrix, 8000, 3)})
    return entries


def unrelated(out):
    files = [f"{PHOTOS}/{f}" for f in sorted(os.listdir(PHOTOS)) if f.lower().endswith(".jpg")]
    # one picture a scene; the examples hold pairs and series of one scene too
    wanted = ["aloeL.jpg", "baboon.jpg", "building.jpg", "butterfly.jpg", "fruits.jpg", "home.jpg", "orange.jpg", "rubberwhale1.png", "squirrel_cls.jpg", "sudoku.png", "graf1.png"]
    files += [f"{EXAMPLES}/{f}" for f in wanted if os.path.exists(f"{EXAMPLES}/{f}")]
    names = []
    for path in files:
        picture = cv2.imread(path)
        if picture is None:
            continue
        scale = 640 / max(picture.shape[:2])
        cv2.imwrite(f"{out}/{len(names)}.png", cv2.resize(picture, None, fx=scale, fy=scale, interpolation=cv2.INTER_AREA))
        names.append(os.path.basename(path))
    return names


def graf(out):
    cv2.imwrite(f"{out}/0_a.png", cv2.imread(f"{EXAMPLES}/graf1.png"))
    cv2.imwrite(f"{out}/0_b.png", cv2.imread(f"{EXAMPLES}/graf3.png"))
    storage = cv2.FileStorage(f"{EXAMPLES}/H1to3p.xml", cv2.FILE_STORAGE_READ)
    return [{"name": "graf 1 to 3", "file": 0, "homography": storage.getFirstTopLevelNode().mat().ravel().tolist(), "k1": 0}]


what, out = sys.argv[1], sys.argv[2]
os.makedirs(out, exist_ok=True)
print(json.dumps({"known": known, "hard": hard, "unrelated": unrelated, "graf": graf}[what](out, *sys.argv[3:])))
