"""Profiles of two made-up papers: a made-up printer (three inks and a black, absorbing as exponentials of how much of them lies there) is measured by formula, and Argyll's colprof makes profiles of that."""
import subprocess, sys
import numpy as np

WAVES = np.arange(400, 701, 10.0)


def lobe(centre, below, above):
    t = (WAVES - centre) * np.where(WAVES < centre, below, above)
    return np.exp(-0.5 * t * t)


# Wyman, Sloan, Shirley 2013, multi-lobe fits of the CIE 1931 observer (recalled from memory)
X = 1.056 * lobe(599.8, 0.0264, 0.0323) + 0.362 * lobe(442.0, 0.0624, 0.0374) - 0.065 * lobe(501.1, 0.0490, 0.0382)
Y = 0.821 * lobe(568.8, 0.0213, 0.0247) + 0.286 * lobe(530.9, 0.0613, 0.0322)
Z = 1.217 * lobe(437.0, 0.0845, 0.0278) + 0.681 * lobe(459.0, 0.0385, 0.0725)
D50 = np.array([0.9642, 1.0, 0.8249])


def bump(centre, width, height, floor):
    return floor + height * np.exp(-0.5 * ((WAVES - centre) / width) ** 2)


PAPERS = {
    "matte": dict(name="Wrenfold Matte Rag", white=0.90 - 0.05 * np.exp(-(WAVES - 400) / 40), surface=0.016, inks=3.0, gain=1.45),
    "gloss": dict(name="Wrenfold Reed Gloss", white=0.93 + 0.0 * WAVES, surface=0.0035, inks=4.4, gain=1.7),
}
INKS = np.stack([bump(640, 52, 1.0, 0.03), bump(540, 36, 1.0, 0.04) + 0.10 * np.exp(-0.5 * ((WAVES - 430) / 40) ** 2), bump(435, 38, 1.0, 0.015)])
BLACK = np.full(WAVES.shape, 1.0)


def measure(rgb, paper):
    ink = np.clip(1 - rgb, 0, 1) ** paper["gain"]
    black = ink.min(axis=1) ** 3
    ink = ink - 0.55 * black[:, None]
    absorbed = paper["inks"] * (ink @ INKS) + 1.35 * paper["inks"] * black[:, None] * BLACK * 0.6
    light = paper["white"] * np.exp(-absorbed) + paper["surface"]
    return np.stack([(light @ c) / c.sum() for c in (X, Y, Z)], axis=1) * D50 * 100


def make(key, out):
    paper = PAPERS[key]
    steps = np.linspace(0, 1, 9)
    rgb = np.stack(np.meshgrid(steps, steps, steps, indexing="ij"), axis=-1).reshape(-1, 3)
    rgb = np.concatenate([rgb, np.repeat(np.linspace(0, 1, 65)[:, None], 3, axis=1)])
    xyz = measure(rgb, paper)
    head = 'CTI3\n\nDESCRIPTOR "Made up"\nORIGINATOR "formula"\nKEYWORD "DEVICE_CLASS"\nDEVICE_CLASS "OUTPUT"\nKEYWORD "COLOR_REP"\nCOLOR_REP "RGB_XYZ"\n\n'
    head += "NUMBER_OF_FIELDS 7\nBEGIN_DATA_FORMAT\nSAMPLE_ID RGB_R RGB_G RGB_B XYZ_X XYZ_Y XYZ_Z\nEND_DATA_FORMAT\n\n"
    head += f"NUMBER_OF_SETS {len(rgb)}\nBEGIN_DATA\n"
    rows = "".join(f"{i + 1} " + " ".join(f"{v:.4f}" for v in (*(100 * c), *m)) + "\n" for i, (c, m) in enumerate(zip(rgb, xyz)))
    open(f"{key}.ti3", "w").write(head + rows + "END_DATA\n")
    subprocess.run(
        ["colprof", "-qm", "-bm", "-ax", "-A", "Wrenfold Marsh", "-M", "made up", "-D", paper["name"], "-C", "Made up; use freely", "-S", "/usr/share/color/argyll/ref/sRGB.icm", "-cmt", "-dpp", "-O", out, key],
        check=True,
    )


for key in PAPERS:
    make(key, f"{sys.argv[1]}/wrenfold-{key}.icc")
