"""PNG, TIFF, JPEG and Radiance files by an independent writer (OpenImageIO, from Debian), and what it reads from them.

raster-corpus.py FOLDER     FOLDER/NAME.EXT, FOLDER/NAME.EXT.json, FOLDER/NAME.EXT.bin (interleaved, as the file has them)
"""
import json
import struct
import sys
import zlib

import numpy as np
import OpenImageIO as oiio

FOLDER = sys.argv[1]
names = []
# Samples as the file has them: not multiplied by alpha.
AS_STORED = oiio.ImageSpec()
AS_STORED.attribute("oiio:UnassociatedAlpha", 1)
NUMPY = {"uint8": np.uint8, "uint16": np.uint16, "float": np.float32, "half": np.float16, "double": np.float64}


def tell(file, written=None):
    """What the library reads; of tiles of doubles, which it reads as nonsense itself, what it was given to write."""
    source = oiio.ImageInput.open(f"{FOLDER}/{file}", AS_STORED)
    spec = source.spec()
    kind = str(spec.format)
    pixels = np.ascontiguousarray(source.read_image(0, 0, 0, spec.nchannels, oiio.TypeDesc(kind)))
    if written is not None:
        pixels = written
    # Floats of other sizes are read as those of 32 bits.
    kind = {"half": "float", "double": "float"}.get(kind, kind)
    pixels.astype(NUMPY[kind]).tofile(f"{FOLDER}/{file}.bin")
    told = {"width": spec.width, "height": spec.height, "channels": spec.nchannels, "type": kind}
    json.dump(told, open(f"{FOLDER}/{file}.json", "w"))
    names.append(file)


def write(file, channels, kind, width=37, height=23, attributes=()):
    spec = oiio.ImageSpec(width, height, channels, kind)
    spec.attribute("oiio:UnassociatedAlpha", 1)
    for key, value in attributes:
        if key.startswith("tile:"):
            # A name of its own: as an attribute it is ignored.
            setattr(spec, f"tile_{key[5:]}", value)
        else:
            spec.attribute(key, value)
    rng = np.random.default_rng(channels + len(file))
    y, x = np.mgrid[0:height, 0:width]
    planes = [(x / width + 0.3 * rng.random((height, width))) * (0.5 + c / 8) for c in range(channels)]
    pixels = np.stack(planes, axis=2)
    top = {"uint8": 255, "uint16": 65535, "float": 30.0, "half": 30.0, "double": 30.0}[kind]
    pixels = (np.clip(pixels, 0, 1) * top).astype(NUMPY[kind])
    out = oiio.ImageOutput.create(f"{FOLDER}/{file}")
    if not out.open(f"{FOLDER}/{file}", spec) or not out.write_image(pixels):
        sys.exit(f"{file}: {out.geterror()}")
    out.close()
    tell(file, pixels if kind == "double" and spec.tile_width else None)


def png(file, bits, colour, rows, extra=b""):
    """A PNG written by hand (ISO/IEC 15948), for depths that the library does not write."""
    def chunk(name, body):
        return struct.pack(">I", len(body)) + name + body + struct.pack(">I", zlib.crc32(name + body))
    width = len(rows[0]) * 8 // bits if colour in (0, 3) else len(rows[0]) * 8 // bits // 3
    data = zlib.compress(b"".join(b"\0" + bytes(r) for r in rows))
    body = chunk(b"IHDR", struct.pack(">IIBBBBB", width, len(rows), bits, colour, 0, 0, 0)) + extra_chunks(chunk, extra)
    open(f"{FOLDER}/{file}", "wb").write(b"\x89PNG\r\n\x1a\n" + body + chunk(b"IDAT", data) + chunk(b"IEND", b""))
    tell(file)


def extra_chunks(chunk, extra):
    return b"".join(chunk(name, body) for name, body in extra)


for kind in ("uint8", "uint16"):
    for channels in (1, 2, 3, 4):
        write(f"{kind}-{channels}.png", channels, kind)
        write(f"{kind}-{channels}.tif", channels, kind)
for channels in (1, 2, 3, 4):
    write(f"float-{channels}.tif", channels, "float")
for kind in ("half", "double"):
    for channels in (1, 2, 3, 4):
        write(f"{kind}-{channels}.tif", channels, kind)
for way in ("none", "zip"):
    write(f"double-{way}.tif", 3, "double", 70, 50, [("compression", way)])
write("double-tiled.tif", 3, "double", 70, 50, [("tile:width", 16), ("tile:height", 16)])
write("double-wide-tiles.tif", 3, "double", 64, 50, [("tile:width", 64), ("tile:height", 32)])
write("tiled.tif", 3, "uint16", 70, 50, [("tile:width", 16), ("tile:height", 16)])
write("lzw.tif", 4, "uint8", 70, 50, [("compression", "lzw")])
write("grey.jpg", 1, "uint8")
write("colour.jpg", 3, "uint8", 64, 48)
write("plain.hdr", 3, "float", 40, 30)
write("narrow.hdr", 3, "float", 5, 9)
png("bits1.png", 1, 0, [[0b10110010, 0b01010101], [0b11110000, 0b00110011]], [])
png("bits2.png", 2, 0, [[0b00011011, 0b11100100], [0b01010101, 0b10101010]], [])
png("bits4.png", 4, 0, [[0x01, 0x23, 0x45, 0x67], [0x89, 0xAB, 0xCD, 0xEF]], [])
palette = bytes(range(0, 48))
png("palette.png", 4, 3, [[0x01, 0x23, 0x4F], [0xFE, 0xDC, 0xBA]], [(b"PLTE", palette)])
png("palette-clear.png", 8, 3, [[0, 1, 2, 3], [3, 2, 1, 0]], [(b"PLTE", palette), (b"tRNS", bytes([0, 128, 255]))])
png("clear-colour.png", 8, 2, [[1, 2, 3, 4, 5, 6], [4, 5, 6, 9, 9, 9]], [(b"tRNS", bytes([0, 4, 0, 5, 0, 6]))])
json.dump(names, open(f"{FOLDER}/names.json", "w"))
