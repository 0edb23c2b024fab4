"""Files that claim much, unpack to much or are something else, each given to the command line by itself. Prints for each its exit code, what it said, the most
memory it held (bytes, over that of a sound file) and the CPU time it took (s)."""
import json, os, struct, subprocess, sys, zipfile, zlib
import numpy as np
from PIL import Image

out = sys.argv[1]
rng = np.random.default_rng(7)
at = lambda name: f"{out}/{name}"
write = lambda name, data: open(at(name), "wb").write(data)
noise = lambda w, h: Image.fromarray(rng.integers(0, 256, (h, w, 3), dtype=np.uint8))
chunk = lambda t, d: struct.pack(">I", len(d)) + t + d + struct.pack(">I", zlib.crc32(t + d))
def png(w, h, *chunks, depth=8, color=2): return b"\x89PNG\r\n\x1a\n" + chunk(b"IHDR", struct.pack(">IIBBBBB", w, h, depth, color, 0, 0, 0)) + b"".join(chunks) + chunk(b"IEND", b"")
def zeros(n):
    z, c = b"", zlib.compressobj(9)
    for _ in range(n >> 24): z += c.compress(bytes(1 << 24))
    return z + c.flush()
def tiff(entries, tail=b""):
    """Little-endian, one directory at 8; entries: tag, type, count, value or place."""
    return b"II*\0" + struct.pack("<I", 8) + struct.pack("<H", len(entries)) + b"".join(struct.pack("<HHII", *e) for e in entries) + bytes(4) + tail
def base(w, h, compression, place, size, rows): return [(256, 4, 1, w), (257, 4, 1, h), (258, 3, 1, 8), (259, 3, 1, compression), (262, 3, 1, 1), (273, 4, 1, place), (277, 3, 1, 1), (278, 4, 1, rows), (279, 4, 1, size)]
GIB = zeros(1 << 30)

noise(64, 48).save(at("sound.jpg"))
noise(1600, 1200).save(at("scans.jpg"), progressive=True, quality=90)
d = open(at("scans.jpg"), "rb").read()
last = d.rindex(b"\xff\xda")
write("scans.jpg", d[:-2] + d[last:-2] * 400 + d[-2:])
write("claims.hdr", b"#?RADIANCE\nFORMAT=32-bit_rle_rgbe\n\n-Y 4000 +X 30000\n" + bytes([2, 2, 30000 >> 8, 30000 & 255] * 6000))
write("profile.png", png(64, 64, chunk(b"iCCP", b"a\0\0" + GIB), chunk(b"IDAT", zlib.compress(bytes(64 * 193)))))
write("toomuch.png", png(64, 64, chunk(b"IDAT", GIB)))
write("claims.png", png(30000, 4000, chunk(b"IDAT", zlib.compress(bytes(9000)))))
write("zeros.png", png(12000, 9900, chunk(b"IDAT", zeros(1 << 20)), depth=16, color=6))
head = 8 + 2 + 9 * 12 + 4
write("claims.tif", tiff(base(30000, 4000, 1, head, 120_000_000, 4000)))
write("deflate.tif", tiff(base(64, 64, 8, head, len(GIB), 64), GIB))
write("directories.tif", tiff(base(64, 64, 1, head, 4096, 64) + [(330, 4, 1_000_000, head + 12 + 4096)], bytes(4096) + struct.pack("<I", 8) * 1_000_000))
tiles = [(256, 4, 1, 64), (257, 4, 1, 64), (258, 3, 1, 8), (259, 3, 1, 5), (262, 3, 1, 1), (277, 3, 1, 1), (322, 4, 1, 65536), (323, 4, 1, 65536), (324, 4, 1, 200), (325, 4, 1, 8)]
write("tiles.tif", tiff(tiles, bytes(100)))
def exr(w, h, tile=None):
    a = lambda n, t, v: n + b"\0" + t + b"\0" + struct.pack("<i", len(v)) + v
    channels = b"".join(c + b"\0" + struct.pack("<iBxxxii", 1, 0, 1, 1) for c in (b"B", b"G", b"R")) + b"\0"
    box = struct.pack("<4i", 0, 0, w - 1, h - 1)
    header = a(b"channels", b"chlist", channels) + a(b"compression", b"compression", b"\3") + a(b"dataWindow", b"box2i", box) + a(b"displayWindow", b"box2i", box) + a(b"lineOrder", b"lineOrder", b"\0")
    header += a(b"pixelAspectRatio", b"float", struct.pack("<f", 1)) + a(b"screenWindowCenter", b"v2f", bytes(8)) + a(b"screenWindowWidth", b"float", struct.pack("<f", 1))
    if tile: header += a(b"tiles", b"tiledesc", struct.pack("<IIB", tile, tile, 0))
    return struct.pack("<II", 0x01312F76, 2 | (0x200 if tile else 0)) + header + b"\0"
write("claims.exr", exr(30000, 4000) + bytes(100_000))
write("tiles.exr", exr(12000, 9900, 1) + bytes(100_000))
noise(64, 48).save(at("claims.webp"), lossless=True)
d = bytearray(open(at("claims.webp"), "rb").read())
d[21:25] = struct.pack("<I", (12000 - 1) | (9900 - 1) << 14)
write("claims.webp", bytes(d))
subprocess.run(["avifenc", "-s", "10", at("sound.jpg"), at("claims.avif")], check=True, stdout=subprocess.DEVNULL, stderr=subprocess.DEVNULL)
d = open(at("claims.avif"), "rb").read()
p = d.index(b"ispe") + 8
write("claims.avif", d[:p] + struct.pack(">II", 12000, 9900) + d[p + 8:])
# what it is not
write("text.jpg", b"This is a note about the weir.\n" * 40)
write("page.png", b"<!doctype html><script>alert(1)</script>")
write("empty.tif", b"")
write("byte.exr", b"\x76")
write("film.avif", b"\0\0\0\x20ftypmp42" + bytes(5000))
write("paper.tif", b"%PDF-1.7\n" + bytes(3000))
write("noise.raw", rng.integers(0, 256, 300_000, dtype=np.uint8).tobytes())
noise(64, 48).save(at("still.gif")); os.rename(at("still.gif"), at("still.jpg"))
noise(64, 48).save(at("map.bmp"))
os.mkdir(at("folder.jpg"))
OTHERS = ["text.jpg", "page.png", "empty.tif", "byte.exr", "film.avif", "paper.tif", "noise.raw", "still.jpg", "map.bmp", "folder.jpg"]
# job files

def job(name, text, extra=()):
    with zipfile.ZipFile(at(name), "w", zipfile.ZIP_STORED) as z:
        z.writestr("job.json", text)
        for n, t in extra: z.writestr(n, t)
job("zeros.marsh", "0" * 250_000_000)
job("deep.marsh", "[" * 5_000_000)
job("numbers.marsh", '{"format":"marsh-job","version":9,"id":"a","history":{"head":null,"steps":[' + ",".join(["12345.678"] * 9_000_000) + "]}}")
job("list.marsh", '{"format":"marsh-job","version":9,"id":"a","history":{"head":null,"steps":[{"id":"s","parent":null,"label":"x","stage":"gather","at":"","diff":{"added":{"r":{"kind":"layer","id":"r","strokes":[' + ",".join(["1"] * 9_000_000) + ']}},"updated":{},"removed":{}}}]}}')
job("many.marsh", "{}", [(f"x{i}", "") for i in range(5000)])
write("nozip.marsh", b"PK\3\4" + bytes(200))

RUN = """
import json, resource, subprocess, sys
p = subprocess.run(sys.argv[1:], stdout=subprocess.PIPE, stderr=subprocess.PIPE, text=True, timeout=200)
u = resource.getrusage(resource.RUSAGE_CHILDREN)
print(json.dumps([p.returncode, (p.stderr or p.stdout).strip(), u.ru_maxrss * 1024, u.ru_utime + u.ru_stime]))
"""
def marsh(name):
    how = ["render", at(name), "-o", at("out.tif")] if name.endswith(".marsh") else ["inspect", at(name)]
    return json.loads(subprocess.run([sys.executable, "-c", RUN, "scripts/marsh", *how, "--threads", "1", "--quiet"], check=True, stdout=subprocess.PIPE, text=True).stdout)

sound = marsh("sound.jpg")
results = {}
for name in sorted(set(os.listdir(out)) - {"sound.jpg", "out.tif", *OTHERS}):
    code, said, memory, seconds = marsh(name)
    results[name] = {"code": code, "said": said.split("\n")[-1], "memory": memory - sound[2], "seconds": seconds - sound[3]}
# what is something else is given at once, beside a sound file
p = subprocess.run(["scripts/marsh", "inspect", at("sound.jpg"), *[at(n) for n in OTHERS], "--threads", "1", "--quiet"], stdout=subprocess.PIPE, stderr=subprocess.PIPE, text=True)
for name in OTHERS:
    said = [line for line in (p.stdout + p.stderr).split("\n") if line.startswith(at(name))]
    results[name] = {"code": p.returncode, "said": said[0] if said else "", "memory": 0, "seconds": 0}
print(json.dumps(results))
