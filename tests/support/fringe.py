"""A bracket with lateral colour planted, and its score. Used by tests/references/merge.

fringe.py make OUT SHIFT      frames f0.png ...; red is larger and blue smaller by SHIFT px at the corner. Prints {"ev", "files"}
fringe.py score OUT PLAIN CLEAN    both merged to TIFF: colour error along edges against the scene without lateral colour
The scene is made up: dark stakes, a leaning mast and a roof before a sky that goes from blue to warm.
"""
import json
import sys

import cv2
import numpy as np

W, H = 960, 640
EVS = [-2, 0, 2]
FULL_WELL, READ = 20000, 4
rng = np.random.default_rng(11)


def srgb(x):
    return np.where(x <= 0.0031308, 12.92 * x, 1.055 * np.maximum(x, 1e-9) ** (1 / 2.4) - 0.055)


def scene():
    over = 4
    h, w = H * over, W * over
    y = np.linspace(0, 1, h)[:, None, None]
    sky = (1 - y) * np.array([0.5, 0.75, 1.1]) + y * np.array([1.2, 0.95, 0.6])
    sky = np.repeat(sky, w, 1)
    dark = np.zeros((h, w), np.uint8)
    for x, top in ((40, 90), (150, 220), (300, 150), (480, 260), (660, 130), (820, 200), (915, 60)):
        cv2.rectangle(dark, (x * over, top * over), ((x + 14) * over, h), 255, -1)
    cv2.fillPoly(dark, [np.int32([[520 * over, 420 * over], [700 * over, 330 * over], [900 * over, 430 * over], [900 * over, h], [520 * over, h]])], 255)
    cv2.line(dark, (60 * over, 600 * over), (260 * over, 40 * over), 255, 9 * over)
    mask = (dark / 255.0)[..., None]
    light = sky * (1 - mask) + np.array([0.03, 0.026, 0.022]) * mask
    return cv2.GaussianBlur(cv2.resize(light, (W, H), interpolation=cv2.INTER_AREA), None, 0.6)


def make(out, shift):
    light = scene()
    np.save(f"{out}/truth.npy", light)
    corner = np.hypot(W, H) / 2
    seen = light.copy()
    for c, sign in ((0, 1), (2, -1)):
        s = 1 + sign * shift / corner
        m = np.float32([[s, 0, (1 - s) * (W - 1) / 2], [0, s, (1 - s) * (H - 1) / 2]])
        seen[..., c] = cv2.warpAffine(light[..., c], m, (W, H), flags=cv2.INTER_CUBIC, borderMode=cv2.BORDER_REPLICATE)
    files = []
    for k, ev in enumerate(EVS):
        electrons = np.clip(seen * 2.0**ev, 0, 1) * FULL_WELL
        frame = np.clip((rng.poisson(electrons) + rng.normal(0, READ, electrons.shape)) / FULL_WELL, 0, 1)
        files.append(f"{out}/f{k}.png")
        cv2.imwrite(files[-1], np.clip(srgb(frame) * 255 + 0.5, 0, 255).astype(np.uint8)[..., ::-1])
    print(json.dumps({"ev": EVS, "files": files}))


def score(out, plain, clean):
    truth = np.load(f"{out}/truth.npy")
    light = truth @ [0.2126, 0.7152, 0.0722]
    tall = cv2.dilate(light, np.ones((5, 5)))
    low = cv2.erode(light, np.ones((5, 5)))
    edge = tall > 4 * low
    sky = (low > 0.4) & ~cv2.dilate(edge.astype(np.uint8), np.ones((9, 9))).astype(bool)
    y, x = np.mgrid[0:H, 0:W]
    outer = np.hypot(x - W / 2, y - H / 2) > 0.55 * np.hypot(W, H) / 2

    def read(path):
        picture = cv2.imread(path, cv2.IMREAD_UNCHANGED)[..., ::-1].astype(np.float64)
        return picture * np.median(truth[sky]) / np.median(picture[sky])

    def error(picture, where):
        ratio = lambda p, c: np.log2(np.maximum(p[..., c], 1e-4) / np.maximum(p[..., 1], 1e-4))
        return float(np.mean([np.abs(ratio(picture, c) - ratio(truth, c))[where].mean() for c in (0, 2)]))

    a, b = read(plain), read(clean)
    changed = float(np.abs(b - a)[sky].max() / np.median(a[sky]))
    print(json.dumps({"edgeBefore": error(a, edge & outer), "edgeAfter": error(b, edge & outer), "skyChanged": changed}))


if sys.argv[1] == "make":
    make(sys.argv[2], float(sys.argv[3]))
else:
    score(*sys.argv[2:5])
