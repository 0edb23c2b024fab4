"""A corpus of damaged picture files, and what readers of another make say of them.

make FOLDER CUTS FLIPS   whole files of every kind as FOLDER/whole/<kind>.<ext>, and damaged ones as FOLDER/<kind>/<n>.<ext>; prints their kinds
judge WHOLE LIST         of files named in a JSON list, those that another reader refuses: PIL (libjpeg, zlib, libwebp), libtiff, OpenCV (OpenEXR), libavif
"""
import io, json, os, struct, subprocess, sys
import numpy as np

os.environ["OPENCV_IO_ENABLE_OPENEXR"] = "1"
import cv2
import tifffile
from PIL import Image

W, H = 97, 61


def scene(rng):
    y, x = np.mgrid[0:H, 0:W].astype(np.float32)
    smooth = np.stack([0.2 + x / W / 2, 0.1 + y / H / 2, 0.3 + (x + y) / (W + H) / 2], -1)
    noise = rng.random((H, W, 3)) * 0.25
    noise[:, : W // 3] = 0
    return np.clip(smooth + noise, 0, 1).astype(np.float32)


def old_runs(rgbe):
    """Radiance pixels with runs of the first kind: 1, 1, 1, n."""
    out = b""
    for row in rgbe:
        x = 0
        while x < len(row):
            n = 1
            while x + n < len(row) and n < 255 and (row[x + n] == row[x]).all():
                n += 1
            out += bytes(row[x])
            if n > 1:
                out += bytes([1, 1, 1, n - 1])
            x += n
    return out


def whole_files(folder, rng):
    v = scene(rng)
    v8 = np.round(v * 255).astype(np.uint8)
    v16 = np.round(v * 65535).astype(np.uint16)
    bgr = np.ascontiguousarray(v[..., ::-1]) * 3
    i8 = Image.fromarray(v8)
    at = lambda name: f"{folder}/{name}"
    i8.save(at("jpeg_baseline.jpg"), quality=90)
    i8.save(at("jpeg_progressive.jpg"), quality=90, progressive=True)
    i8.convert("L").save(at("jpeg_grey.jpg"), quality=90)
    i8.save(at("png_8.png"))
    cv2.imwrite(at("png_16.png"), np.ascontiguousarray(v16[..., ::-1]))
    i8.convert("P").save(at("png_palette.png"))
    i8.save(at("webp_lossy.webp"), quality=80)
    i8.save(at("webp_lossless.webp"), lossless=True)
    f = (v * 2).astype(np.float32)
    tifffile.imwrite(at("tiff_none.tif"), v16, photometric="rgb")
    tifffile.imwrite(at("tiff_big_endian.tif"), v16, photometric="rgb", byteorder=">")
    tifffile.imwrite(at("tiff_bigtiff.tif"), v16, photometric="rgb", bigtiff=True)
    tifffile.imwrite(at("tiff_planar.tif"), np.ascontiguousarray(v16.transpose(2, 0, 1)), photometric="rgb", planarconfig="separate")
    tifffile.imwrite(at("float.tif"), f, photometric="rgb")
    for name, source, how in (
        ("tiff_lzw", "tiff_none", ["-c", "lzw"]),
        ("tiff_lzw_2", "tiff_none", ["-c", "lzw:2"]),
        ("tiff_deflate", "tiff_none", ["-c", "zip"]),
        ("tiff_deflate_2", "tiff_none", ["-c", "zip:2"]),
        ("tiff_deflate_3", "float", ["-c", "zip:3"]),
        ("tiff_tiled", "tiff_none", ["-c", "zip:2", "-t", "-w", "32", "-l", "32"]),
        ("tiff_packbits", "tiff_none", ["-c", "packbits"]),
    ):
        subprocess.run(["tiffcp", *how, at(source + ".tif"), at(name + ".tif")], check=True)
    os.remove(at("float.tif"))
    for kind in ("HALF", "FLOAT"):
        for way in ("NO", "RLE", "ZIPS", "ZIP", "PIZ", "PXR24", "B44"):
            flags = [cv2.IMWRITE_EXR_TYPE, getattr(cv2, "IMWRITE_EXR_TYPE_" + kind), cv2.IMWRITE_EXR_COMPRESSION, getattr(cv2, "IMWRITE_EXR_COMPRESSION_" + way)]
            cv2.imwrite(at(f"exr_{way.lower()}_{kind.lower()}.exr"), bgr, flags)
    subprocess.run(["exrmaketiled", "-o", "-t", "32", "32", "-z", "zip", at("exr_piz_half.exr"), at("exr_tiled.exr")], check=True)
    subprocess.run(["exrmultipart", "-combine", "-i", at("exr_piz_half.exr"), at("exr_zip_half.exr"), "-o", at("exr_parts.exr")], check=True, stdout=subprocess.DEVNULL)
    cv2.imwrite(at("hdr_new.hdr"), bgr)
    m = np.maximum(v.max(-1), 1e-6)
    e = np.floor(np.log2(m)).astype(int) + 1
    rgbe = np.concatenate([np.floor(v * 256.0 / 2.0 ** e[..., None]).clip(0, 255), (e + 128)[..., None]], -1).astype(np.uint8)
    rgbe[: H // 2, : W // 2] = rgbe[0, 0]
    head = lambda form: f"#?RADIANCE\nFORMAT=32-bit_rle_{form}\n\n-Y {H} +X {W}\n".encode()
    open(at("hdr_flat.hdr"), "wb").write(head("rgbe") + rgbe.tobytes())
    open(at("hdr_old.hdr"), "wb").write(head("rgbe") + old_runs(rgbe))
    open(at("hdr_xyze.hdr"), "wb").write(head("xyze") + rgbe.tobytes())
    subprocess.run(["avifenc", "--min", "10", "--max", "20", "-s", "8", at("png_8.png"), at("avif.avif")], check=True, stdout=subprocess.DEVNULL, stderr=subprocess.DEVNULL)
    cfa = v16[..., 1] // 4
    rational = lambda q: [k for z in np.ravel(q) for k in (int(round(z * 10000)), 10000)]
    tags = [(50706, "B", 4, bytes([1, 4, 0, 0]), True), (50708, "s", 0, "Wrenfold Field Camera", True), (33421, "H", 2, (2, 2), True),
        (33422, "B", 4, bytes([0, 1, 1, 2]), True), (50721, "2i", 9, rational(np.eye(3)), True), (50728, "2I", 3, rational([1, 1, 1]), True),
        (50717, "H", 1, 16383, True), (271, "s", 0, "Wrenfold", True), (272, "s", 0, "Field Camera", True)]
    tifffile.imwrite(at("dng.dng"), cfa[:60, :96], photometric=32803, extratags=tags, metadata=None)


def make(folder, cuts, flips):
    rng = np.random.default_rng(29)
    os.makedirs(folder + "/whole", exist_ok=True)
    whole_files(folder + "/whole", rng)
    for name in sorted(os.listdir(folder + "/whole")):
        kind, ext = name.rsplit(".", 1)
        data = open(f"{folder}/whole/{name}", "rb").read()
        os.makedirs(f"{folder}/{kind}", exist_ok=True)
        for n in range(cuts):
            open(f"{folder}/{kind}/cut{n}.{ext}", "wb").write(data[: int(len(data) * (n + rng.random()) / cuts)])
        for n in range(flips):
            b = bytearray(data)
            for _ in range(1 + n % 4):
                b[rng.integers(len(b))] ^= 1 << int(rng.integers(8))
            open(f"{folder}/{kind}/flip{n}.{ext}", "wb").write(bytes(b))
    print(json.dumps(sorted(os.listdir(folder + "/whole"))))


def refused(path):
    kind = path.rsplit(".", 1)[1]
    try:
        if kind in ("exr", "hdr"):
            return cv2.imread(path, cv2.IMREAD_UNCHANGED) is None
        if kind == "avif":
            return subprocess.run(["avifdec", path, "/tmp/judged.png"], stdout=subprocess.DEVNULL, stderr=subprocess.DEVNULL).returncode != 0
        if kind == "dng":
            return False
        if kind == "tif":
            return subprocess.run(["tiffcp", "-c", "none", path, "/tmp/judged.tif"], stdout=subprocess.DEVNULL, stderr=subprocess.DEVNULL).returncode != 0
        Image.open(path).load()
        return False
    except Exception:
        return True


def judge(whole, listed):
    # a reader that does not know this kind at all is no judge of it
    print(json.dumps([] if refused(whole) else [p for p in json.load(open(listed)) if refused(p)]))


if sys.argv[1] == "make":
    make(sys.argv[2], int(sys.argv[3]), int(sys.argv[4]))
else:
    judge(sys.argv[2], sys.argv[3])
