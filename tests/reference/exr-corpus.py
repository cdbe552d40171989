"""Writes EXR files of every sort with independent programs (Debian's OpenImageIO and openexr) and what they read from them.

exr-corpus.py FOLDER     FOLDER/NAME.exr, FOLDER/NAME.json (parts with windows, channels, types), FOLDER/NAME.P.C.bin
"""
import json
import subprocess
import sys

import numpy as np
import OpenImageIO as oiio

FOLDER = sys.argv[1]
NUMPY = {"half": np.float16, "float": np.float32, "uint": np.uint32}
COMPRESSIONS = ["none", "rle", "zips", "zip", "piz", "pxr24", "b44", "b44a", "dwaa", "dwab"]
CHANNELS = [("R", "half"), ("G", "half"), ("B", "half"), ("A", "half"), ("depth.Z", "float"), ("glow.R", "float"),
            ("flat.Y", "half")]


def picture(width, height, seed=1):
    """Smooth light with a bright lamp, noise in one corner, and a flat channel: something for every coder."""
    y, x = np.mgrid[0:height, 0:width].astype(np.float64)
    rng = np.random.default_rng(seed)
    lamp = 30 * np.exp(-((x - width / 3) ** 2 + (y - height / 2) ** 2) / 20)
    base = 0.5 + 0.4 * np.sin(x / 7 + seed) * np.cos(y / 5)
    noise = rng.random((height, width)) * (x > width * 0.7)
    planes = []
    for i, (name, _) in enumerate(CHANNELS):
        plane = base * (1 + 0.1 * i) + lamp + noise * (i % 3)
        if name == "A":
            plane = (x > 4).astype(np.float64)
        if name == "flat.Y":
            plane = np.full_like(base, 0.25)
        if name == "depth.Z":
            plane = 5 + x * 0.37 + y * 1.91
        planes.append(plane)
    return np.stack(planes, axis=2).astype(np.float32)


def spec_of(width, height, compression, window=None, tile=None, order=None, name=None):
    spec = oiio.ImageSpec(width, height, len(CHANNELS), "float")
    spec.channelnames = tuple(n for n, _ in CHANNELS)
    spec.channelformats = tuple(oiio.TypeDesc(t) for _, t in CHANNELS)
    spec.attribute("compression", compression)
    if window:
        spec.x, spec.y, spec.full_x, spec.full_y, spec.full_width, spec.full_height = window
    if tile:
        spec.tile_width, spec.tile_height = tile
    if order:
        spec.attribute("openexr:lineOrder", order)
    if name:
        spec.attribute("oiio:subimagename", name)
    return spec


def write(name, specs, seeds=(1, 2, 3)):
    path = f"{FOLDER}/{name}.exr"
    out = oiio.ImageOutput.create(path)
    opened = out.open(path, tuple(specs)) if len(specs) > 1 else out.open(path, specs[0])
    if not opened:
        sys.exit(f"{name}: {out.geterror()}")
    for i, spec in enumerate(specs):
        if i and not out.open(path, spec, "AppendSubimage"):
            sys.exit(f"{name}: {out.geterror()}")
        if not out.write_image(picture(spec.width, spec.height, seeds[i])):
            sys.exit(f"{name}: {out.geterror()}")
    out.close()
    return path


def tell(name):
    """What OpenImageIO reads."""
    source = oiio.ImageInput.open(f"{FOLDER}/{name}.exr")
    parts = []
    while source.seek_subimage(len(parts), 0):
        spec = source.spec()
        types = [str(f) for f in spec.channelformats] or [str(spec.format)] * spec.nchannels
        types = ["uint" if t.startswith("uint") else t for t in types]
        for i, kind in enumerate(types):
            pixels = source.read_image(len(parts), 0, i, i + 1, oiio.TypeDesc(kind))
            np.ascontiguousarray(pixels).astype(NUMPY[kind]).tofile(f"{FOLDER}/{name}.{len(parts)}.{i}.bin")
        parts.append({"window": [spec.x, spec.y, spec.x + spec.width - 1, spec.y + spec.height - 1],
                      "channels": list(spec.channelnames), "types": types})
    json.dump(parts, open(f"{FOLDER}/{name}.json", "w"))


names = []


def add(name, *specs):
    write(name, specs)
    tell(name)
    names.append(name)


for c in COMPRESSIONS:
    add(f"scan-{c}", spec_of(67, 45, c))
    add(f"tile-{c}", spec_of(67, 45, c, tile=(32, 16)))
    add(f"window-{c}", spec_of(37, 300, c, window=(-5, -7, 0, 0, 30, 40)))
for size in [(1, 1), (3, 2), (8, 8), (16, 33), (257, 5)]:
    for c in ["piz", "b44", "dwaa", "pxr24"]:
        add(f"size-{size[0]}x{size[1]}-{c}", spec_of(*size, c))
add("decreasing", spec_of(40, 50, "zip", order="decreasingY"))
add("random-tiles", spec_of(100, 70, "piz", tile=(16, 16), order="randomY"))
add("parts", spec_of(40, 30, "zip", name="rgba"), spec_of(40, 30, "piz", name="left"),
    spec_of(40, 30, "zips", name="right"))
subprocess.run(["exrmultipart", "-combine", "-i", f"{FOLDER}/tile-piz.exr", f"{FOLDER}/scan-zip.exr",
                f"{FOLDER}/window-b44.exr", "-override", "1", "-o", f"{FOLDER}/mixed.exr"], check=True,
               stdout=subprocess.DEVNULL)
tell("mixed")
names.append("mixed")

# Mip and rip maps, by OpenEXR's own program; level 0 is what counts.
for mode in ["-m", "-r"]:
    name = "mip" if mode == "-m" else "rip"
    subprocess.run(["exrmaketiled", mode, "-t", "16", "16", f"{FOLDER}/scan-zip.exr", f"{FOLDER}/{name}.exr"], check=True)
    tell(name)
    names.append(name)

# Channels marked as linear to the eye (pLinear), which OpenImageIO does not write: the mark is set in a file of its own.
# In the list each channel is its name, a zero, its type (1 is half) and that mark.
for c in ["b44", "b44a"]:
    data = open(f"{FOLDER}/scan-{c}.exr", "rb").read()
    for channel in (b"R", b"G", b"B", b"flat.Y"):
        entry = channel + b"\0\1\0\0\0"
        assert data.count(entry + b"\0") == 1
        data = data.replace(entry + b"\0", entry + b"\1")
    open(f"{FOLDER}/linear-{c}.exr", "wb").write(data)
    tell(f"linear-{c}")
    names.append(f"linear-{c}")

json.dump(names, open(f"{FOLDER}/names.json", "w"))
