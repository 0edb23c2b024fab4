"""Focus stacks and repeats with known truth, simulated from Debian's photographs with numpy and OpenCV.

/usr/bin/python3 tests/support/stacks.py smooth OUT    8 frames focused through a smooth depth, no framing change; truth.png, depth.npy
/usr/bin/python3 tests/support/stacks.py steps OUT     8 frames, things in front of others, 1.2 % framing change; truth.png as frame 4 is framed
/usr/bin/python3 tests/support/stacks.py moved OUT     8 frames in which a cloud and a branch go on
/usr/bin/python3 tests/support/stacks.py doubled DIR A share of what moved in DIR that looks like no moment in A
/usr/bin/python3 tests/support/stacks.py repeats OUT   16 frames of one view with noise, each with things that pass; truth.png
/usr/bin/python3 tests/support/stacks.py score A B     PSNR, SSIM of two 8-bit pictures, 24 px inside the border
/usr/bin/python3 tests/support/stacks.py depth A B     mean absolute difference of two float planes where the stack has structure
/usr/bin/python3 tests/support/stacks.py gain DIR A    noise of one frame against truth over that of A against truth; worst place
"""
import json
import os
import sys

import cv2
import numpy as np

PHOTOS = "/usr/share/backgrounds"
W, H, N = 960, 640, 8
rng = np.random.default_rng(21)


def linear(name, size=(W, H)):
    picture = cv2.imread(f"{PHOTOS}/{name}")
    scale = max(size[0] / picture.shape[1], size[1] / picture.shape[0])
    picture = cv2.resize(picture, None, fx=scale, fy=scale, interpolation=cv2.INTER_AREA)
    y, x = (picture.shape[0] - size[1]) // 2, (picture.shape[1] - size[0]) // 2
    return ((picture[y : y + size[1], x : x + size[0]] / 255.0) ** 2.2 * 0.8).astype(np.float32)


def save(light, path, electrons=20000, ev=0.0):
    e = np.clip(light * 2.0**ev, 0, 1.5) * electrons
    noisy = (rng.poisson(e) + rng.normal(0, 3, e.shape)) / electrons
    cv2.imwrite(path, np.round(np.clip(noisy, 0, 1) ** (1 / 2.2) * 255).astype(np.uint8))


def plain(light, path):
    cv2.imwrite(path, np.round(np.clip(light, 0, 1) ** (1 / 2.2) * 255).astype(np.uint8))


SIGMAS = np.array([0, 0.7, 1.4, 2.1, 2.8, 3.5, 4.2, 5.0, 6.0, 7.0, 8.0])


def blurred(light, sigma):
    """Blur that differs from place to place: between pictures blurred by fixed amounts."""
    levels = [light if s == 0 else cv2.GaussianBlur(light, (0, 0), float(s)) for s in SIGMAS]
    at = np.interp(sigma, SIGMAS, np.arange(len(SIGMAS)))
    out = np.zeros_like(light)
    for k, level in enumerate(levels):
        out += level * np.clip(1 - np.abs(at - k), 0, 1)[..., None].astype(np.float32)
    return out


def smooth(out):
    scene = linear("greentock_by_Peter_Nerlich.jpg")
    y, x = np.mgrid[0:H, 0:W]
    depth = (N - 1) * np.clip(y / (H - 1) * 0.9 + 0.05 + 0.05 * np.sin(x / 150.0), 0, 1)
    for k in range(N):
        save(blurred(scene, np.abs(depth - k) * 1.1), f"{out}/{k}.png")
    plain(scene, f"{out}/truth.png")
    np.save(f"{out}/depth.npy", depth)


def steps(out):
    """Three planes: a back wall, a board, and something near; what is in front is blurred over what is behind."""
    layers = [
        (linear("aitzgorri_by_Aitzol_Berasategi.jpg"), np.ones((H, W), np.float32), 6.5),
        (linear("free_by_Peter_Nerlich.jpg"), np.zeros((H, W), np.float32), 3.5),
        (linear("life_by_Aitzol_Berasategi.jpg"), np.zeros((H, W), np.float32), 0.5),
    ]
    cv2.ellipse(layers[1][1], (330, 330), (210, 230), 12, 0, 360, 1.0, -1, cv2.LINE_AA)
    cv2.rectangle(layers[2][1], (560, 300), (860, 640), 1.0, -1)
    cv2.circle(layers[2][1], (700, 300), 110, 1.0, -1, cv2.LINE_AA)

    def frame(k):
        picture = None
        for light, alpha, at in layers:
            sigma = 0 if k is None else abs(at - k) * 0.9
            a, l = alpha, light * alpha[..., None]
            if sigma > 0.05:
                a, l = cv2.GaussianBlur(a, (0, 0), sigma), cv2.GaussianBlur(l, (0, 0), sigma)
            picture = l if picture is None else l + picture * (1 - a[..., None])
        return picture

    def framed(light, k):
        m = cv2.getRotationMatrix2D(((W - 1) / 2, (H - 1) / 2), 0, 1 + 0.012 * k / (N - 1))
        return cv2.warpAffine(light, m, (W, H), flags=cv2.INTER_CUBIC, borderMode=cv2.BORDER_REFLECT)

    for k in range(N):
        save(framed(frame(k), k), f"{out}/{k}.png")
    plain(framed(frame(None), 4), f"{out}/truth.png")


def moved(out):
    """8 frames focused through a scene in which a cloud and a branch go on: 0.png ..., what is sharp everywhere at each moment as moment0.npy ..., and where anything moved."""
    y, x = np.mgrid[0:H, 0:W].astype(np.float32)
    back = linear("aitzgorri_by_Aitzol_Berasategi.jpg")
    back[: H // 2] = np.array([0.45, 0.38, 0.3], np.float32) * (1 - 0.3 * y[: H // 2, :, None] / H)
    puffs = linear("Picture_0B_by_freespace.jpg")
    leaves = linear("greentock_by_Peter_Nerlich.jpg") * 0.4
    things = []
    for k in range(N):
        cloud, branch = np.zeros((H, W), np.float32), np.zeros((H, W), np.float32)
        for dx, dy, r in ((0, 0, 52), (48, -14, 40), (-50, 8, 36), (18, 22, 44)):
            cv2.circle(cloud, (300 + 9 * k + dx, 120 + dy), r, 1.0, -1, cv2.LINE_AA)
        sway = int(round(16 * np.sin(1.9 * k)))
        for i in range(7):
            cv2.ellipse(branch, (700 + sway + 18 * (i % 3), 90 + 34 * i), (30, 11), 35 * (-1) ** i, 0, 360, 1.0, -1, cv2.LINE_AA)
        things.append([(cloud, np.clip(0.35 + puffs, 0, 0.75), 6.5), (branch, leaves, 2.5)])
    board = np.zeros((H, W), np.float32)
    cv2.rectangle(board, (80, 380), (420, 640), 1.0, -1)

    def frame(k, focus):
        picture = None
        for alpha, light, at in [(np.ones((H, W), np.float32), back, 6.5), *things[k], (board, linear("life_by_Aitzol_Berasategi.jpg"), 0.5)]:
            sigma = 0 if focus is None else abs(at - focus) * 0.9
            a, l = alpha, light * alpha[..., None]
            if sigma > 0.05:
                a, l = cv2.GaussianBlur(a, (0, 0), sigma), cv2.GaussianBlur(l, (0, 0), sigma)
            picture = l if picture is None else l + picture * (1 - a[..., None])
        return picture

    for k in range(N):
        save(frame(k, k), f"{out}/{k}.png")
        np.save(f"{out}/moment{k}.npy", frame(k, None))
    alphas = np.array([[t[0] for t in moment] for moment in things])
    np.save(f"{out}/where.npy", (alphas.max(0) - alphas.min(0)).max(0) > 0.5)


def doubled(folder, merged):
    """Share of the moved area that looks like no moment: codes of 255 over 7 px differ by more than 12 from each."""
    where = np.load(f"{folder}/where.npy")
    ours = cv2.imread(merged).astype(np.float32)
    off = []
    for k in range(N):
        moment = np.clip(np.load(f"{folder}/moment{k}.npy"), 0, 1) ** (1 / 2.2) * 255
        off.append(cv2.blur(np.abs(ours - moment).max(2), (7, 7)))
    least = np.min(off, 0)
    return {"share": float((least[where] > 12).mean()), "elsewhere": float((least[~where] > 12).mean()), "area": int(where.sum())}


def repeats(out):
    scene = linear("picosdeeuropa_by_Aitzol_Berasategi.jpg") * 0.6
    for k in range(16):
        light = scene.copy()
        # two things pass, never twice over the same place
        cv2.circle(light, (60 + k * 55, 470), 24, (0.02, 0.02, 0.3), -1)
        cv2.rectangle(light, (900 - k * 56, 120), (930 - k * 56, 190), (0.9, 0.9, 0.85), -1)
        save(light, f"{out}/{k:02d}.png", electrons=400)
    np.save(f"{out}/truth.npy", scene)


def score(a, b):
    from skimage.metrics import structural_similarity

    p, q = [cv2.imread(f)[24:-24, 24:-24].astype(np.float64) for f in (a, b)]
    ssim = structural_similarity(p, q, channel_axis=2, data_range=255)
    return {"psnr": 10 * np.log10(255**2 / np.mean((p - q) ** 2)), "ssim": ssim}


def depth(a, b):
    import tifffile

    found, truth = tifffile.imread(a), np.load(b)
    return {"error": float(np.mean(np.abs(found - truth)[24:-24, 24:-24])), "shape": list(found.shape), "type": str(found.dtype)}


def gain(folder, merged):
    truth = np.load(f"{folder}/truth.npy")
    decode = lambda p, top: (p / top) ** 2.2
    one = decode(cv2.imread(f"{folder}/00.png", cv2.IMREAD_UNCHANGED).astype(np.float64), 255)
    out = decode(cv2.imread(merged, cv2.IMREAD_UNCHANGED).astype(np.float64), 65535)
    # where nothing passes and nothing is near the ends of the range
    quiet = np.zeros((H, W), bool)
    quiet[220:420] = True
    quiet &= (truth.min(2) > 0.05) & (truth.max(2) < 0.4)
    noise = lambda p: np.std((p - truth)[quiet])
    passed = cv2.GaussianBlur(np.abs(out - truth).max(2), (0, 0), 4)
    return {"gain": noise(one) / noise(out), "worst": float(passed.max()), "still": float(np.mean(np.abs(out - truth)))}


if __name__ == "__main__":
    what, *args = sys.argv[1:]
    if what in ("smooth", "steps", "moved", "repeats"):
        os.makedirs(args[0], exist_ok=True)
    print(json.dumps(globals()[what](*args)))
