"""An independent reader and writer of EXR (OpenImageIO, from Debian) for the tests.

dump FILE FOLDER         each channel's samples, row by row, as FOLDER/N.bin, and FOLDER/spec.json
make SPEC.json FILE      an EXR with the channels, types, compression and windows of SPEC, its samples from binary files
"""
import json
import sys

import numpy as np
import OpenImageIO as oiio

NUMPY = {"half": np.float16, "float": np.float32, "uint": np.uint32}


def plain(value):
    if isinstance(value, (int, float, str)):
        return value
    return [plain(v) for v in value] if isinstance(value, tuple) else str(value)


def dump(path, folder):
    source = oiio.ImageInput.open(path)
    if not source:
        sys.exit(oiio.geterror())
    spec = source.spec()
    types = [str(f) for f in spec.channelformats] or [str(spec.format)] * spec.nchannels
    for i, kind in enumerate(types):
        # Each channel in its own type, so that nothing is converted.
        kind = "uint" if kind.startswith("uint") else kind
        pixels = source.read_image(0, 0, i, i + 1, oiio.TypeDesc(kind))
        np.ascontiguousarray(pixels).astype(NUMPY[kind]).tofile(f"{folder}/{i}.bin")
    told = {
        "width": spec.width, "height": spec.height, "x": spec.x, "y": spec.y,
        "full": [spec.full_x, spec.full_y, spec.full_width, spec.full_height],
        "channels": list(spec.channelnames),
        "types": ["uint" if t.startswith("uint") else t for t in types],
        "attributes": {a.name: plain(a.value) for a in spec.extra_attribs},
    }
    json.dump(told, open(f"{folder}/spec.json", "w"))


def make(given, path):
    s = json.load(open(given))
    kinds = {c["type"] for c in s["channels"]}
    spec = oiio.ImageSpec(s["width"], s["height"], len(s["channels"]), "uint" if kinds == {"uint"} else "float")
    spec.x, spec.y = s["x"], s["y"]
    spec.full_x, spec.full_y, spec.full_width, spec.full_height = s["full"]
    spec.channelnames = tuple(c["name"] for c in s["channels"])
    if len(kinds) > 1 or kinds == {"half"}:
        spec.channelformats = tuple(oiio.TypeDesc(c["type"]) for c in s["channels"])
    spec.attribute("compression", s["compression"])
    for name, value in s.get("attributes", {}).items():
        spec.attribute(name, value)
    rows = []
    for c in s["channels"]:
        rows.append(np.fromfile(c["file"], NUMPY[c["type"]]).reshape(s["height"], s["width"], 1))
    out = oiio.ImageOutput.create(path)
    if not out.open(path, spec):
        sys.exit(out.geterror())
    # One numpy type for all channels. Floats hold halves exactly; uints would be scaled, so they stand alone.
    kind = np.uint32 if all(c["type"] == "uint" for c in s["channels"]) else np.float32
    if not out.write_image(np.concatenate([r.astype(kind) for r in rows], axis=2)):
        sys.exit(out.geterror())
    out.close()


if __name__ == "__main__":
    {"dump": dump, "make": make}[sys.argv[1]](*sys.argv[2:])
