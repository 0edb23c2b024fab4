"""Camera simulation for the demo scenes: scene-linear radiance and depth in, camera frames out.

Pixel centres are integers, the top-left centre is (0, 0). Radiance is linear Rec. 709, depth is ray length in metres.
"""
import os

os.environ["OPENCV_IO_ENABLE_OPENEXR"] = "1"
import cv2  # noqa: E402  (the variable must be set first)
import numpy as np  # noqa: E402

HALF_FLOAT_MAX = 6e4


def load_exr(path):
    return np.nan_to_num(cv2.imread(path, cv2.IMREAD_UNCHANGED)[..., :3].astype(np.float32))


def load_depth(path, fog_metres):
    """Depth is rendered as white fog: value = 1 - exp(-d / fog_metres)."""
    return -fog_metres * np.log(np.clip(1 - load_exr(path)[..., 1], 1e-6, 1))


def haze(radiance, depth, distance, colour):
    share = (1 - np.exp(-depth / distance))[..., None]
    return radiance * (1 - share) + colour * share


def lens(radiance, veil=0.0025, bloom=0.004, falloff=0.35, lateral=0.0006):
    """Bloom, veiling glare, light falloff and a slight lateral colour error."""
    height, width = radiance.shape[:2]
    source = np.minimum(radiance, HALF_FLOAT_MAX)
    glow = np.zeros_like(radiance)
    small = cv2.resize(source, (width // 4, height // 4), interpolation=cv2.INTER_AREA)
    for sigma, weight in ((0.004, 0.5), (0.02, 0.3), (0.09, 0.2)):
        glow += weight * cv2.resize(cv2.GaussianBlur(small, (0, 0), sigma * width / 4), (width, height))
    out = source * (1 - bloom - veil) + glow * bloom + source.mean((0, 1)) * veil
    y, x = np.mgrid[0:height, 0:width].astype(np.float32)
    cx, cy = (width - 1) / 2, (height - 1) / 2
    r2 = ((x - cx) ** 2 + (y - cy) ** 2) / (cx * cx + cy * cy)
    out = out * (1 - falloff * r2 + 0.08 * r2 * r2)[..., None]
    result = out.copy()
    for channel, scale in ((0, 1 + lateral), (2, 1 - lateral)):
        result[..., channel] = cv2.remap(
            np.ascontiguousarray(out[..., channel]), cx + (x - cx) * scale, cy + (y - cy) * scale,
            cv2.INTER_LINEAR, borderMode=cv2.BORDER_REPLICATE)
    return np.maximum(result, 0)


def pose(width, height, degrees, tx, ty, scale=1.0, px=0.0, py=0.0):
    """A 3x3 matrix about the picture's centre: rotation, shift in px, scale and two perspective terms."""
    cx, cy = (width - 1) / 2, (height - 1) / 2
    a = np.radians(degrees)
    centre = np.array([[1, 0, -cx], [0, 1, -cy], [0, 0, 1]], float)
    turn = np.array([[scale * np.cos(a), -scale * np.sin(a), tx], [scale * np.sin(a), scale * np.cos(a), ty], [px, py, 1]])
    return np.linalg.inv(centre) @ turn @ centre


def sensor(radiance, exposure, rng, full_well=9000, read_noise=3.2, clip=4.0):
    """Shot and read noise in electrons, demosaic softness and in-camera sharpening. Returns linear 0 to 1."""
    electrons = np.clip(radiance * exposure, 0, clip) * full_well
    noisy = rng.poisson(np.minimum(electrons, 1e6)).astype(np.float32)
    noisy += rng.normal(0, read_noise, electrons.shape).astype(np.float32)
    noisy = cv2.GaussianBlur(noisy, (0, 0), 0.45)
    noisy = noisy + 0.35 * (noisy - cv2.GaussianBlur(noisy, (0, 0), 1.1))
    return np.clip(noisy / full_well, 0, 1)


def encode_srgb(x):
    """IEC 61966-2-1."""
    return np.where(x <= 0.0031308, 12.92 * x, 1.055 * np.power(np.maximum(x, 1e-9), 1 / 2.4) - 0.055)


def save_jpeg(path, linear, rng, quality=92):
    value = encode_srgb(linear) * 255 + rng.uniform(-0.5, 0.5, linear.shape)
    cv2.imwrite(path, np.clip(np.round(value), 0, 255).astype(np.uint8), [cv2.IMWRITE_JPEG_QUALITY, quality])
