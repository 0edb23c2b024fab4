"""Simulated brackets in which something moves, and their scores. Used by tests/references/merge.

ghosts.py make OUT SEED MOVING        frames f0.png ..., moment0.npy ... (what was there in each), prints {"ev", "files", "box"}
ghosts.py score OUT MERGED PLAIN MAP DONOR    MERGED with the place taken from frame DONOR, PLAIN merged from all, MAP of what moved
"""
import glob
import json
import sys

import cv2
import numpy as np

EVS = [-2, 0, 2]
FULL_WELL, READ = 20000, 4


def srgb(x):
    return np.where(x <= 0.0031308, 12.92 * x, 1.055 * np.maximum(x, 1e-9) ** (1 / 2.4) - 0.055)


def photograph(k, width):
    paths = sorted(glob.glob("/usr/share/backgrounds/*.jpg"))
    picture = cv2.imread(paths[k % len(paths)])[..., ::-1]
    scale = width / picture.shape[1]
    picture = cv2.GaussianBlur(cv2.resize(picture, None, fx=scale, fy=scale, interpolation=cv2.INTER_AREA), None, 0.7)
    return np.maximum((picture / 255.0) ** 2.2, 0.004)


def make(out, seed, moving):
    rng = np.random.default_rng(seed)
    light = photograph(seed, 900)
    h, w = light.shape[:2]
    y, x = np.mgrid[0:h, 0:w]
    light = light * (2.0 ** (3.5 * np.exp(-((x - w * 0.7) ** 2 + (y - h * 0.3) ** 2) / (w * 0.25) ** 2) - 0.5))[..., None]
    light = np.minimum(light, 3.8)
    thing = photograph(seed + 5, 900)[:h, :w]
    # an ellipse of 5 % of the picture with the texture of another photograph, elsewhere in every frame
    ry, rx = np.sqrt(0.05 * h * w / np.pi / 1.6), 1.6 * np.sqrt(0.05 * h * w / np.pi / 1.6)
    files = []
    boxes = []
    for k, ev in enumerate(EVS):
        moment = light.copy()
        if moving:
            cx, cy = w * (0.3 + 0.13 * k), h * (0.55 + 0.04 * k)
            soft = np.clip((1 - np.hypot((x - cx) / rx, (y - cy) / ry)) * ry / 1.5, 0, 1)[..., None]
            texture = np.roll(cv2.resize(thing, (w, h)), (int(0.04 * k * h), int(0.13 * k * w)), (0, 1)) * 0.8 + 0.02
            moment = moment * (1 - soft) + texture * soft
            boxes.append([cx - rx, cy - ry, cx + rx, cy + ry])
        np.save(f"{out}/moment{k}.npy", moment)
        electrons = np.minimum(moment * 2.0**ev, 1.0) * FULL_WELL
        seen = np.clip((rng.poisson(electrons) + rng.normal(0, READ, electrons.shape)) / FULL_WELL, 0, 1)
        files.append(f"{out}/f{k}.png")
        cv2.imwrite(files[-1], np.clip(srgb(seen) * 255 + 0.5, 0, 255).astype(np.uint8)[..., ::-1])
    b = np.array(boxes) if boxes else np.zeros((1, 4))
    print(json.dumps({"ev": EVS, "files": files, "box": [b[:, 0].min(), b[:, 1].min(), b[:, 2].max(), b[:, 3].max()]}))


def score(out, merged, plain, mapped, donor):
    import tifffile

    truth = np.load(f"{out}/moment{donor}.npy")
    moments = [np.load(f"{out}/moment{k}.npy") for k in range(len(EVS))]
    moved = np.any([np.abs(np.log2(m / moments[0])).max(-1) > 0.1 for m in moments], axis=0)
    ours, before = [tifffile.imread(f).astype(np.float64) for f in (merged, plain)]
    found = cv2.imread(mapped, 0) > 0
    ours, before = [v * np.median(truth[~moved] / v[~moved]) for v in (ours, before)]
    code = lambda v: srgb(np.clip(v / 4, 0, 1))
    psnr = lambda a, m: float(-10 * np.log10(((code(a) - code(truth))[m] ** 2).mean()))
    wide = cv2.dilate(found.astype(np.uint8), np.ones((65, 65))) > 0
    rest = ~moved
    changed = (np.abs(code(ours) - code(before)).max(-1) > 1 / 255) & ~found
    print(json.dumps({
        "psnr": psnr(ours, moved), "psnrBefore": psnr(before, moved), "covered": float(found[moved].mean()),
        "restChanged": float(changed[rest].mean()), "falseArea": float((found & ~(cv2.dilate(moved.astype(np.uint8), np.ones((41, 41))) > 0)).mean()), "wide": float(wide.mean()),
    }))


if __name__ == "__main__":
    {"make": lambda a: make(a[0], int(a[1]), a[2] == "1"), "score": lambda a: score(*a)}[sys.argv[1]](sys.argv[2:])
