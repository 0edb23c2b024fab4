"""Cameras over level ground, as pov/plate.pov has them. Metres, x right, y up, z ahead; px with centres at integers."""
import os
import subprocess

from camera import load_exr
import numpy as np

pov = os.path.join(os.path.dirname(os.path.abspath(__file__)), "pov")


def turn(axis, degrees):
    """The renderer's rotations: z takes x to y, y takes z to x, x takes y to z."""
    c, s = np.cos(np.radians(degrees)), np.sin(np.radians(degrees))
    return {"x": np.array([[1, 0, 0], [0, c, -s], [0, s, c]]), "y": np.array([[c, 0, s], [0, 1, 0], [-s, 0, c]]), "z": np.array([[c, -s, 0], [s, c, 0], [0, 0, 1]])}[axis]


class Camera:
    def __init__(self, fov, pitch, roll, height, size):
        self.width, self.height_px = size
        self.focal = size[0] / 2 / np.tan(np.radians(fov / 2))
        self.pose = turn("x", -pitch) @ turn("z", roll)
        self.height = height

    def direction(self, d):
        """Px of a direction; homogeneous, so that it may lie anywhere."""
        x, y, z = self.pose.T @ np.asarray(d, float)
        return np.array([x * self.focal + z * (self.width - 1) / 2, -y * self.focal + z * (self.height_px - 1) / 2, z])

    def place(self, p):
        v = self.direction(np.asarray(p, float) - [0, self.height, 0])
        return (v[:2] / v[2]).tolist() if v[2] > 0 else None

    def horizon(self):
        """Where the horizon runs through the left and the right edge."""
        normal = np.cross(self.direction([1, 0, 0]), self.direction([0, 0, 1]))
        return [[x, float(-(normal[0] * x + normal[2]) / normal[1])] for x in (0, self.width - 1)]


def towards(azimuth, elevation):
    """Towards a light; azimuth clockwise from straight ahead, degrees."""
    a, e = np.radians(azimuth), np.radians(elevation)
    return np.array([np.sin(a) * np.cos(e), np.sin(e), np.cos(a) * np.cos(e)])


def shade_of(sun, elevation, fill):
    """Light over shade on level ground, EV by the luminance of Rec. 709, and the share of each channel that the shade has: the sun's and the sky's own colours, as in plate.pov."""
    sunlight, skylight = np.array([1, 0.93, 0.82]) * sun * np.sin(np.radians(elevation)), np.array([0.72, 0.86, 1]) * fill
    weights = np.array([0.2126, 0.7152, 0.0722])
    return float(np.log2(weights @ (sunlight + skylight) / (weights @ skylight))), (skylight / (sunlight + skylight)).tolist()


def render(folder, name, size, values):
    exr = os.path.abspath(f"{folder}/{name}.exr")
    if not os.path.exists(exr):
        subprocess.run(["povray", "+Iplate.pov", f"+L{os.path.abspath(folder)}", f"+O{exr}", "+FE", f"+W{size[0]}", f"+H{size[1]}", "-D", "-V", "+WT1", "+A0.3", "+AM2", "+R2"]
                       + [f"Declare={k}={v}" for k, v in values.items()], check=True, cwd=pov, stderr=subprocess.DEVNULL)
    return load_exr(exr)
