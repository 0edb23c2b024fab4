"""Frames of a turned camera, cut from a spherical render: longitude and latitude in equal steps."""
import cv2
import numpy as np


def about(axis, degrees):
    """The rotation about an axis (0 right, 1 down, 2 forward)."""
    v = np.zeros(3)
    v[axis] = np.radians(degrees)
    return cv2.Rodrigues(v)[0]


def turned_by(yaw, pitch, roll):
    return about(1, yaw) @ about(0, pitch) @ about(2, roll)


def view(master, r, width, height, focal, wide, middle_pitch=0.0):
    """What a camera of a focal length, px, sees of a master that is `wide` degrees wide; its middle row looks `middle_pitch` degrees upwards."""
    mh, mw = master.shape[:2]
    y, x = np.mgrid[0:height, 0:width].astype(np.float64)
    ray = np.stack([(x - (width - 1) / 2) / focal, (y - (height - 1) / 2) / focal, np.ones_like(x)], -1) @ (about(0, -middle_pitch) @ r).T
    ray /= np.linalg.norm(ray, axis=-1, keepdims=True)
    per = mw / np.radians(wide)
    mx = np.arctan2(ray[..., 0], ray[..., 2]) * per + (mw - 1) / 2
    my = np.arcsin(ray[..., 1]) * per + (mh - 1) / 2
    return np.maximum(cv2.remap(master, mx.astype(np.float32), my.astype(np.float32), cv2.INTER_CUBIC, borderMode=cv2.BORDER_REPLICATE), 0)
