"""Structural quality of exposure fusions, higher is better. Used by tests/references/merge.

mefssim.py FUSED FRAMES...      prints {"ours", "theirs"}: of FUSED, and of OpenCV's MergeMertens with its own default weights
@see Ma, Zeng, Wang 2015, "Perceptual quality assessment for multi-exposure image fusion", equations 2 to 11; form recalled from memory
"""
import json
import sys

import cv2
import numpy as np

WINDOW = 8
SCALES = [0.0448, 0.2856, 0.3001]


def grey(picture):
    return picture.astype(np.float64) @ np.array([0.299, 0.587, 0.114])


def structure(frames, fused):
    mean = lambda v: cv2.blur(v, (WINDOW, WINDOW))
    means = [mean(f) for f in frames]
    n = len(frames)
    cov = [[mean(frames[i] * frames[j]) - means[i] * means[j] for j in range(n)] for i in range(n)]
    contrast = [np.sqrt(np.maximum(cov[k][k], 1e-8)) for k in range(n)]
    together = np.sqrt(np.maximum(sum(cov[i][j] for i in range(n) for j in range(n)), 0))
    consistency = np.clip(together / sum(contrast), 0, 1 - 1e-4)
    power = np.minimum(np.tan(np.pi / 2 * consistency), 10)
    share = [c ** (power - 1) for c in contrast]
    norm = np.sqrt(np.maximum(sum(share[i] * share[j] * cov[i][j] for i in range(n) for j in range(n)), 1e-12))
    best = np.max(contrast, axis=0)
    mine = mean(fused)
    variance = mean(fused * fused) - mine * mine
    across = best * sum(share[k] * (mean(frames[k] * fused) - means[k] * mine) for k in range(n)) / norm
    c = (0.03 * 255) ** 2
    quality = (2 * across + c) / (best**2 + variance + c)
    return float(quality[WINDOW:-WINDOW, WINDOW:-WINDOW].mean())


def score(frames, fused):
    total, whole = 0.0, sum(SCALES)
    for weight in SCALES:
        total += weight / whole * np.log(max(1e-6, structure(frames, fused)))
        half = lambda v: cv2.resize(v, None, fx=0.5, fy=0.5, interpolation=cv2.INTER_AREA)
        frames, fused = [half(f) for f in frames], half(fused)
    return float(np.exp(total))


if __name__ == "__main__":
    import tifffile

    fused = tifffile.imread(sys.argv[1]).astype(np.float64) / 257
    pictures = [cv2.imread(f) for f in sys.argv[2:]]
    theirs = np.clip(cv2.createMergeMertens().process(pictures), 0, 1)[..., ::-1] * 255
    frames = [grey(p[..., ::-1]) for p in pictures]
    print(json.dumps({"ours": score(frames, grey(fused)), "theirs": score(frames, grey(theirs))}))
