"""Views cut from known pictures with known rotation, and what OpenCV's detail pipeline makes of them.

A photograph stands for a part of the sphere: its columns are longitudes, its rows latitudes. Views are sampled from it through a
pinhole camera, with falloff, exposure steps, shot noise and JPEG. Rotations are camera -> world, x right, y down, z forward.

  panorama.py make OUT SPEC-JSON      frames and truth.json
  panorama.py opencv OUT              OpenCV's rotations and focal length
  panorama.py compare OUT FILE JSON   a rectilinear result against the photograph, seen through the same directions
"""
import json
import sys
import time

import cv2
import numpy as np

cv2.setNumThreads(1)


def about(axis, degrees):
    v = np.zeros(3)
    v[axis] = np.radians(degrees)
    return cv2.Rodrigues(v)[0]


def rotation(yaw, pitch, roll):
    return about(1, yaw) @ about(0, pitch) @ about(2, roll)


def undistort(r, k1):
    x = r.copy()
    for _ in range(30):
        x = x - (x * (1 + k1 * x * x) - r) / (1 + 3 * k1 * x * x)
    return x


def view(master, degrees, r, f, size, k1):
    """Frame of a camera: master spans `degrees` of longitude about 0, square px at the equator."""
    w, h = size
    y, x = np.mgrid[0:h, 0:w].astype(np.float64)
    u, v = (x - (w - 1) / 2) / f, (y - (h - 1) / 2) / f
    radius = np.hypot(u, v)
    factor = np.where(radius > 0, undistort(radius, k1) / np.maximum(radius, 1e-12), 1)
    ray = np.stack([u * factor, v * factor, np.ones_like(u)], -1) @ r.T
    ray /= np.linalg.norm(ray, axis=-1, keepdims=True)
    per = master.shape[1] / np.radians(degrees)
    mx = np.arctan2(ray[..., 0], ray[..., 2]) * per + (master.shape[1] - 1) / 2
    my = np.arcsin(np.clip(ray[..., 1], -1, 1)) * per + (master.shape[0] - 1) / 2
    if degrees >= 360:
        mx = np.mod(mx, master.shape[1])
        border = cv2.BORDER_WRAP
    else:
        border = cv2.BORDER_REFLECT
    return cv2.remap(master, mx.astype(np.float32), my.astype(np.float32), cv2.INTER_CUBIC, borderMode=border)


def make(out, spec):
    rng = np.random.default_rng(spec.get("seed", 1))
    photo = cv2.imread(spec["photo"])
    degrees = spec["degrees"]
    photo = cv2.resize(photo, (spec["masterWidth"], round(photo.shape[0] * spec["masterWidth"] / photo.shape[1])), interpolation=cv2.INTER_AREA)
    if "grain" in spec:
        noise = rng.normal(0, spec["grain"], (photo.shape[0] // 2, photo.shape[1] // 2)).astype(np.float32)
        photo = np.clip(photo + cv2.resize(noise, photo.shape[1::-1], interpolation=cv2.INTER_CUBIC)[..., None], 0, 255).astype(np.uint8)
    if degrees >= 360:
        # the ends meet
        n = photo.shape[1] // 8
        ramp = np.linspace(0, 1, n)[None, :, None]
        photo = np.concatenate([photo[:, :n] * ramp + photo[:, -n:] * (1 - ramp), photo[:, n:-n]], 1).astype(np.uint8)
    master = (photo.astype(np.float32) / 255) ** 2.2
    if "near" in spec:
        ground = cv2.resize(cv2.imread(spec["near"]["photo"]), master.shape[1::-1], interpolation=cv2.INTER_AREA)
        ground = (ground.astype(np.float32) / 255) ** 2.2
    if spec.get("soft"):
        master = cv2.GaussianBlur(master, (0, 0), spec["soft"])
    if "contrast" in spec:
        master = master.mean((0, 1)) * (1 - spec["contrast"]) + master * spec["contrast"]
    w, h = spec["size"]
    f = spec["focal"]
    y, x = np.mgrid[0:h, 0:w]
    r2 = ((x - (w - 1) / 2) ** 2 + (y - (h - 1) / 2) ** 2) / ((w - 1) ** 2 + (h - 1) ** 2) * 4
    frames = []
    for i, (yaw, pitch, roll, ev) in enumerate(spec["views"]):
        r = rotation(yaw, pitch, roll)
        light = np.clip(view(master, degrees, r, f, (w, h), spec.get("k1", 0)), 0, 1) * 0.6
        if "near" in spec:
            # another picture below a line, that goes on by so many px a frame: what is near while the camera does not turn about its entrance pupil
            beside = view(ground, degrees, r, f, (w, h), spec.get("k1", 0))
            beside = cv2.warpAffine(beside, np.float64([[1, 0, i * spec["near"]["px"]], [0, 1, 0]]), (w, h), flags=cv2.INTER_CUBIC, borderMode=cv2.BORDER_REFLECT)
            from_row = round(h * spec["near"]["from"])
            light[from_row:] = np.clip(beside[from_row:], 0, 1) * 0.6
        light *= (1 - spec.get("falloff", 0) * r2)[..., None] * 2**ev
        e = light * 12000
        noisy = (rng.poisson(np.maximum(e, 0)) + rng.normal(0, 4, e.shape)) / 12000
        name = f"view-{i + 1}.jpg"
        cv2.imwrite(f"{out}/{name}", np.round(np.clip(noisy, 0, 1) ** (1 / 2.2) * 255).astype(np.uint8), [cv2.IMWRITE_JPEG_QUALITY, 95])
        frames.append({"file": name, "rotation": r.ravel().tolist(), "ev": ev})
    json.dump({"focal": f, "k1": spec.get("k1", 0), "frames": frames}, open(f"{out}/truth.json", "w"))


def opencv(out):
    """The stages of the stitching sample: features, matches, homography focal, bundle adjustment by rays."""
    truth = json.load(open(f"{out}/truth.json"))
    images = [cv2.imread(f"{out}/{x['file']}") for x in truth["frames"]]
    t = time.process_time()
    finder = cv2.SIFT_create(2000)
    features = [cv2.detail.computeImageFeatures2(finder, x) for x in images]
    matches = cv2.detail_BestOf2NearestMatcher(False, 0.4).apply2(features)
    ok, cameras = cv2.detail_HomographyBasedEstimator().apply(features, matches, None)
    if not ok:
        return {"ok": False, "cpu": time.process_time() - t}
    for c in cameras:
        c.R = c.R.astype(np.float32)
    adjuster = cv2.detail_BundleAdjusterRay()
    adjuster.setConfThresh(0.8)
    adjuster.setRefinementMask(np.array([[1, 1, 1], [0, 1, 1], [0, 0, 0]], np.uint8))
    ok, cameras = adjuster.apply(features, matches, cameras)
    return {
        "ok": bool(ok), "cpu": time.process_time() - t, "focal": float(np.median([c.focal for c in cameras])),
        "rotations": [np.asarray(c.R, float).ravel().tolist() for c in cameras],
    }


def compare(path, spec):
    """PSNR of encoded values after one gain a channel, for the result has the mean light of the frames and the photograph has not."""
    got = cv2.imread(path, -1).astype(np.float64) / 65535
    linear = np.where(got <= 0.04045, got / 12.92, ((got + 0.055) / 1.055) ** 2.4)
    photo = cv2.imread(spec["photo"])
    photo = cv2.resize(photo, (spec["masterWidth"], round(photo.shape[0] * spec["masterWidth"] / photo.shape[1])), interpolation=cv2.INTER_AREA)
    master = (photo.astype(np.float32) / 255) ** 2.2
    found = spec["found"]
    # the level picture's directions -> those of the photograph, through the middle frame
    turn = np.array(spec["truth"]).reshape(3, 3) @ np.array(spec["middle"]).T
    f = found["focalPx"]
    h, w = got.shape[:2]
    cx, cy = spec["found"]["picture"]["originX"], spec["found"]["picture"]["originY"]
    y, x = np.mgrid[0:h, 0:w].astype(np.float64)
    ray = np.stack([(x + cx) / f, (y + cy) / f, np.ones_like(x)], -1) @ turn.T
    ray /= np.linalg.norm(ray, axis=-1, keepdims=True)
    per = master.shape[1] / np.radians(spec["degrees"])
    mx = np.arctan2(ray[..., 0], ray[..., 2]) * per + (master.shape[1] - 1) / 2
    my = np.arcsin(np.clip(ray[..., 1], -1, 1)) * per + (master.shape[0] - 1) / 2
    want = np.clip(cv2.remap(master, mx.astype(np.float32), my.astype(np.float32), cv2.INTER_CUBIC), 0, 1)
    # near the middle, where the result is not enlarged, and where no frame is clipped
    near = (np.abs(x + cx) < 0.7 * f) & (np.abs(y + cy) < 0.25 * f) & (linear.max(2) > 0)
    # the frames were encoded by a plain power and read as sRGB
    encoded = lambda v: np.clip(v, 0, 1) ** (1 / 2.2)
    a, b = got[near][:, ::1], encoded(want[near])
    scale = (a * b).sum(0) / (b * b).sum(0)
    error = a - b * scale
    print(json.dumps({"psnr": float(-10 * np.log10((error**2).mean())), "covered": float(near.mean())}))


if __name__ == "__main__":
    if sys.argv[1] == "compare":
        compare(sys.argv[3], json.loads(sys.argv[4]))
    elif sys.argv[1] == "make":
        make(sys.argv[2], json.loads(sys.argv[3]))
        print("{}")
    else:
        print(json.dumps(opencv(sys.argv[2])))
