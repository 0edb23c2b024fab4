"""Simulated exposure brackets with an unknown response, and their scores. Used by tests/references/merge.

brackets.py make OUT SEED [RESPONSE]  a response asked for: from a camera that stood still. Frames f0.png ... (8 bit, no profile), truth.npy, and prints {"ev", "frames", "response"}
brackets.py score OUT MERGED    RMSE of log2 radiance of MERGED (float TIFF), and of OpenCV's Debevec on the same frames
"""
import glob
import json
import sys

import cv2
import numpy as np

SHUTTERS = [[-2, 0, 2], [-4, -2, 0, 2, 4], [-3, -1.5, 0, 1.5], [-4, -2, 0, 2], [-2, 0, 2]]
FULL_WELL, READ = 30000, 4


def gamma(x):
    return x ** (1 / 2.2)


def shoulder(x):
    """A plain gamma with the contrast raised about the middle: what camera pictures mostly look like."""
    y = x ** (1 / 2.2)
    return y + 0.11 * np.sin(2 * np.pi * (y - 0.5)) * (1 - y) * y * 2.4


def logarithmic(x):
    return np.log1p(40 * x) / np.log(41)


def steep(x):
    return x ** (1 / 1.8) * (1.25 - 0.25 * x)


def srgb(x):
    return np.where(x <= 0.0031308, 12.92 * x, 1.055 * np.maximum(x, 1e-9) ** (1 / 2.4) - 0.055)


def s_shaped(x):
    """Clearly more contrast in the middle, as a picture style makes it."""
    y = x ** (1 / 2.2)
    return y * y * (3 - 2 * y)


def linear(x):
    return x


RESPONSES = [gamma, shoulder, logarithmic, steep, srgb]
STILL = {f.__name__: f for f in (srgb, s_shaped, logarithmic, linear)}


def make(out, seed, response=None):
    rng = np.random.default_rng(100 + seed)
    paths = sorted(glob.glob("/usr/share/backgrounds/*.jpg"))
    picture = cv2.imread(paths[seed % len(paths)])[..., ::-1]
    # twice the size, so that a shift is free of ringing
    scale = 1680 / max(picture.shape[:2])
    picture = cv2.resize(picture, None, fx=scale, fy=scale, interpolation=cv2.INTER_AREA).astype(np.float64) / 255
    # what a lens leaves of a point; without it frames could not be laid over each other by parts of a pixel
    picture = cv2.GaussianBlur(picture, None, 1.4)
    h, w = picture.shape[0] // 2 * 2, picture.shape[1] // 2 * 2
    light = np.maximum(picture[:h, :w] ** 2.2, 0.003)
    y, x = np.mgrid[0:h, 0:w]
    light *= (2.0 ** (4.5 * np.exp(-((x - w * rng.uniform(0.2, 0.8)) ** 2 + (y - h * rng.uniform(0.2, 0.8)) ** 2) / (w * 0.2) ** 2) - 0.7))[..., None]
    evs = SHUTTERS[seed % len(SHUTTERS)]
    # nothing brighter than the shortest frame holds, nothing darker than the longest shows
    light = np.clip(light, 0.08 * 2.0 ** -evs[-1], 0.95 * 2.0 ** -evs[0])
    respond = STILL[response] if response else RESPONSES[seed % len(RESPONSES)]
    small = lambda v: cv2.resize(v, (w // 2, h // 2), interpolation=cv2.INTER_AREA)
    np.save(out + "/truth.npy", small(light))
    files, shifts, top, weights = [], [], 0.0, 0.0
    grid = np.linspace(0, 1, 20001)
    for k, ev in enumerate(evs):
        shift = np.zeros(2) if ev == 0 or response else rng.uniform(-1.2, 1.2, 2)
        moved = cv2.warpAffine(light, np.float64([[1, 0, shift[0]], [0, 1, shift[1]]]), (w, h), flags=cv2.INTER_LINEAR, borderMode=cv2.BORDER_REFLECT)
        shifts.append((shift / 2).tolist())
        electrons = np.minimum(small(moved) * 2.0**ev, 1.0) * FULL_WELL
        seen = np.clip((rng.poisson(electrons) + rng.normal(0, READ, electrons.shape)) / FULL_WELL, 0, 1)
        code = np.clip(respond(seen) * 255 + 0.5, 0, 255).astype(np.uint8)
        files.append(f"{out}/f{k}.png")
        cv2.imwrite(files[-1], code[..., ::-1])
        # what can be had: the true response, no shift, weights by the true noise
        electrons = np.minimum(small(light) * 2.0**ev, 1.0) * FULL_WELL
        seen = np.clip((rng.poisson(electrons) + rng.normal(0, READ, electrons.shape)) / FULL_WELL, 0, 1)
        back = np.interp(np.round(respond(seen) * 255) / 255, respond(grid), grid)
        step = np.gradient(grid, respond(grid))[np.clip((back * 20000).astype(int), 0, 20000)] / 255
        variance = electrons / FULL_WELL**2 + (READ / FULL_WELL) ** 2 + step**2 / 12
        weight = np.where(back.max(-1, keepdims=True) < 0.97, 4.0**ev / variance, 1e-9)
        top, weights = top + weight * back / 2.0**ev, weights + weight
    np.save(out + "/ideal.npy", top / weights)
    print(json.dumps({"ev": evs, "files": files, "reference": evs.index(0), "response": respond.__name__, "shifts": shifts}))


def rmse(truth, found, evs, inside):
    ok = (truth * 2.0 ** evs[0] < 0.97).all(-1) & (found > 0).all(-1) & np.isfinite(found).all(-1) & inside
    d = np.log2(found[ok]) - np.log2(truth[ok])
    d -= d.mean()
    return float(np.sqrt((d * d).mean()))


def score(out, merged):
    import tifffile

    truth = np.load(out + "/truth.npy")
    facts = json.load(open(out + "/facts.json"))
    evs = facts["ev"]
    inside = np.zeros(truth.shape[:2], bool)
    inside[4:-4, 4:-4] = True
    # linear, in working primaries or sRGB alike: the frames were neutral to primaries
    ours = tifffile.imread(merged).astype(np.float64)
    frames = [cv2.imread(f) for f in facts["files"]]
    times = np.float32([2.0**ev for ev in evs])
    debevec = cv2.createMergeDebevec().process(frames, times, cv2.createCalibrateDebevec().process(frames, times))[..., ::-1]
    print(json.dumps({"ours": rmse(truth, ours, evs, inside), "debevec": rmse(truth, debevec.astype(np.float64), evs, inside), "ideal": rmse(truth, np.load(out + "/ideal.npy"), evs, inside)}))


if __name__ == "__main__":
    {"make": lambda a: make(a[0], int(a[1]), *a[2:]), "score": lambda a: score(*a)}[sys.argv[1]](sys.argv[2:])
