"""Rendered pictures with fine hair and gauze whose alpha and colours are known, and scores of mattes. Used by tests/references/compose/matte.

mattes.py make OUT SEED        picture.jpg (sRGB of a mix in linear light, noise as of a camera), clean.jpg (the same view without it, a little darker), trimap.png, truth.npz,
                               and prints {"box": [x, y, w, h], "closedForm": {"sad", "gradient"}, "grabCut": sad}
mattes.py score OUT ALPHA [F]  prints {"sad", "gradient", "frontRms", "shape", "dtype"}: of the whole picture, in the band (sadInBand), and of F weighted by alpha

closedForm: Levin, Lischinski, Weiss 2008, the matrix as they define it, solved by scipy's direct sparse solver with the band given. gradient: Rhemann et al. 2009, with
derivatives of a Gaussian of 1.4 px.
"""
import json
import sys

import cv2
import numpy as np
import scipy.sparse as sparse
import scipy.sparse.linalg as solvers
import tifffile

W, H, FINER = 480, 360, 4
SIGMA = 0.006


def to_linear(v):
    return np.where(v <= 0.04045, v / 12.92, ((v + 0.055) / 1.055) ** 2.4)


def to_codes(v):
    v = np.clip(v, 0, 1)
    return np.where(v <= 0.0031308, 12.92 * v, 1.055 * v ** (1 / 2.4) - 0.055)


def clouds(rng, scale, amount):
    coarse = rng.normal(size=(max(2, H // scale + 2), max(2, W // scale + 2), 3)).astype(np.float32)
    return amount * cv2.resize(coarse, (W, H), interpolation=cv2.INTER_CUBIC)


def background(rng, lined):
    out = rng.uniform(0.25, 0.8, 3) + 0.5 * (clouds(rng, 80, 0.1) + rng.uniform(0, 1.5) * clouds(rng, 20, 0.05)) + clouds(rng, 4, 0.02)
    if lined:
        for _ in range(6):
            ends = [tuple(int(v) for v in rng.uniform(0, 1, 2) * [W, H]) for _ in range(2)]
            cv2.line(out, ends[0], ends[1], tuple(float(v) for v in rng.uniform(0.1, 0.9, 3)), int(rng.integers(3, 14)))
        out = cv2.GaussianBlur(out, (0, 0), 2)
    return to_linear(np.clip(out, 0.01, 1))


def coverage(rng, gauze):
    mask = np.zeros((H * FINER, W * FINER), np.uint8)
    centre = np.array([W / 2, H * 0.58]) * FINER
    axes = (int(W * 0.19 * FINER), int(H * 0.3 * FINER))
    cv2.ellipse(mask, tuple(int(v) for v in centre), axes, 0, 0, 360, 255, -1)
    for _ in range(int(rng.integers(60, 160))):
        at = rng.uniform(-np.pi, 0.1)
        way = np.array([np.cos(at) * axes[0], np.sin(at) * axes[1]])
        p = centre + way * 0.95
        length, curl = rng.uniform(20, 75) * FINER, rng.normal() * 0.03
        angle = np.arctan2(way[1], way[0]) + rng.normal() * 0.35
        points = [p.copy()]
        for _ in range(24):
            angle += curl
            p = p + np.array([np.cos(angle), np.sin(angle)]) * length / 24
            points.append(p.copy())
        cv2.polylines(mask, [np.array(points).round().astype(np.int32)], False, 255, int(rng.integers(2, 7)))
    alpha = cv2.resize(mask.astype(np.float32) / 255, (W, H), interpolation=cv2.INTER_AREA)
    if gauze:
        cloth = np.zeros((H, W), np.float32)
        cv2.ellipse(cloth, (int(W * 0.7), int(H * 0.8)), (int(W * 0.14), int(H * 0.13)), 20, 0, 360, 1, -1)
        y, x = np.mgrid[:H, :W]
        weave = 0.45 + 0.15 * np.sin(x / 3.1) * np.sin(y / 2.7) + 0.1 * np.sin((x + y) / 17)
        alpha = np.maximum(alpha, cv2.GaussianBlur(cloth, (0, 0), 1.2) * weave)
    return np.clip(alpha, 0, 1)


def shot(rng, light, path):
    codes = np.round(np.clip(to_codes(light) + rng.normal(size=light.shape) * SIGMA, 0, 1) * 255).astype(np.uint8)
    cv2.imwrite(path, codes[..., ::-1], [cv2.IMWRITE_JPEG_QUALITY, 95])
    return cv2.imread(path)


def closed_form(light, trimap, least=1e-7):
    h, w = trimap.shape
    place = np.arange(h * w).reshape(h, w)
    near = cv2.dilate((trimap == 128).astype(np.uint8), np.ones((3, 3)))[1:-1, 1:-1] > 0
    windows = place[1:-1, 1:-1][near][:, None] + np.array([dy * w + dx for dy in (-1, 0, 1) for dx in (-1, 0, 1)])
    away = light.reshape(-1, 3)[windows]
    away = away - away.mean(1, keepdims=True)
    inverse = np.linalg.inv(np.einsum("nki,nkj->nij", away, away) / 9 + least / 9 * np.eye(3))
    entries = np.eye(9) - (1 + np.einsum("nki,nij,nlj->nkl", away, inverse, away)) / 9
    at = (np.repeat(windows, 9, 1).ravel(), np.tile(windows, (1, 9)).ravel())
    matrix = sparse.coo_matrix((entries.ravel(), at), shape=(h * w, h * w)).tocsr()
    flat = trimap.ravel()
    free, fixed = np.flatnonzero(flat == 128), np.flatnonzero(flat != 128)
    alpha = (flat == 255).astype(float)
    alpha[free] = np.clip(solvers.spsolve(matrix[free][:, free].tocsc(), -matrix[free][:, fixed] @ alpha[fixed]), 0, 1)
    return alpha.reshape(h, w)


def gradient_error(alpha, truth, where):
    def slope(v):
        smooth = cv2.GaussianBlur(v.astype(np.float64), (0, 0), 1.4)
        return np.hypot(cv2.Sobel(smooth, -1, 1, 0) / 8, cv2.Sobel(smooth, -1, 0, 1) / 8)

    return float(((slope(alpha) - slope(truth)) ** 2)[where].sum())


def make(out, seed):
    rng = np.random.default_rng(seed)
    behind = background(rng, seed % 3 == 0)
    tint = rng.uniform(0.05, 0.6, 3) * rng.uniform(0.5, 1.3)
    front = to_linear(np.clip(tint + clouds(rng, 60, 0.06) + clouds(rng, 6, 0.03), 0.01, 1))
    alpha = coverage(rng, seed % 2 == 0)
    picture = shot(rng, alpha[..., None] * front + (1 - alpha[..., None]) * behind, f"{out}/picture.jpg")
    shot(rng, 0.9 * behind, f"{out}/clean.jpg")
    partly = cv2.dilate(((alpha > 0.002) & (alpha < 0.998)).astype(np.uint8), cv2.getStructuringElement(cv2.MORPH_ELLIPSE, (11, 11))) > 0
    trimap = np.where(partly, 128, np.where(alpha > 0.5, 255, 0)).astype(np.uint8)
    cv2.imwrite(f"{out}/trimap.png", trimap)
    np.savez(f"{out}/truth.npz", alpha=alpha, front=front, band=partly)
    y, x = np.nonzero(alpha > 0.02)
    box = [int(x.min()) - 4, int(y.min()) - 4, int(np.ptp(x)) + 9, int(np.ptp(y)) + 9]
    direct = closed_form(to_linear(picture[..., ::-1] / 255.0), trimap)
    cut = np.zeros((H, W), np.uint8)
    cv2.setRNGSeed(1)
    cv2.grabCut(picture, cut, tuple(box), np.zeros((1, 65)), np.zeros((1, 65)), 5, cv2.GC_INIT_WITH_RECT)
    figures = {"sad": float(np.abs(direct - alpha)[partly].sum()), "gradient": gradient_error(direct, alpha, partly)}
    print(json.dumps({"box": box, "closedForm": figures, "grabCut": float(np.abs((cut % 2) - alpha).sum())}))


def score(out, path, front_path=None):
    truth = np.load(f"{out}/truth.npz")
    alpha, band = truth["alpha"], truth["band"]
    found = tifffile.imread(path)
    got = found.astype(float) / 65535
    result = {
        "sad": float(np.abs(got - alpha).sum()),
        "sadInBand": float(np.abs(got - alpha)[band].sum()),
        "gradient": gradient_error(got, alpha, band),
        "shape": list(found.shape),
        "dtype": str(found.dtype),
    }
    if front_path:
        off = ((tifffile.imread(front_path) - truth["front"]) ** 2).mean(2)
        result["frontRms"] = float(np.sqrt((off * alpha)[band].sum() / alpha[band].sum()))
    print(json.dumps(result))


if __name__ == "__main__":
    if sys.argv[1] == "make":
        make(sys.argv[2], int(sys.argv[3]))
    else:
        score(*sys.argv[2:])
