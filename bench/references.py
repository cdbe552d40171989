"""The references of the bench, each timed here and alternating with Zafiro's kernels: OpenCV, SciPy, NumPy, OpenImageIO.

Reads a command a line, writes the milliseconds a line. Arguments: picture.f32 (RGBA), kernel.f32, matte.f32, width, height, kernel
width, kernel height, exr file.
"""
import os
import sys
import time

import cv2
import numpy as np
import OpenImageIO as oiio
import scipy
import scipy.fft

picture_file, kernel_file, matte_file, w, h, kw, kh, exr = sys.argv[1:9]
w, h, kw, kh = int(w), int(h), int(kw), int(kh)
picture = np.fromfile(picture_file, np.float32).reshape(h, w, 4)
other = picture[::-1].copy()
kernel = np.fromfile(kernel_file, np.float32).reshape(kh, kw)
matte = np.fromfile(matte_file, np.float32).reshape(h, w)
binary = np.where(matte > 0.5, 0, 255).astype(np.uint8)
out = np.empty_like(picture)
threads = 1

size = (scipy.fft.next_fast_len(h + kh - 1, True), scipy.fft.next_fast_len(w + kw - 1, True))
spectrum = scipy.fft.rfft2(kernel, size)
planes = np.ascontiguousarray(picture.transpose(2, 0, 1))
disc = np.fromfunction(lambda y, x: (x - 20) ** 2 + (y - 20) ** 2 <= 400, (41, 41)).astype(np.uint8)
weights = [(48.0 / 2**i, 1 / 7) for i in range(7)]


def copy():
    np.copyto(out, picture)


def over():
    np.multiply(other, 1 - picture[..., 3:], out=out)
    np.add(out, picture, out=out)


def gaussian():
    cv2.GaussianBlur(picture, (0, 0), 20, borderType=cv2.BORDER_REPLICATE)


def level_for(sigma):
    level = 0
    while (sigma * sigma - 2 * (4 ** (level + 1) - 1) / 3) / 4 ** (level + 1) >= 0.05:
        level += 1
    return level


def bloom():
    """The same pyramid: binomial down, the same own Gaussian at each level, spline up, weighted sums."""
    placed = [(level_for(s), s, k) for s, k in weights]
    top = max(l for l, _, _ in placed)
    levels = [picture]
    for _ in range(top):
        levels.append(cv2.pyrDown(levels[-1]))
    total = None
    for l in range(top, -1, -1):
        here = None
        for level, sigma, weight in placed:
            if level != l:
                continue
            own = (max(0, sigma * sigma - 2 * (4**l - 1) / 3) / 4**l) ** 0.5
            reach = int(np.ceil(4 * own))
            blurred = cv2.GaussianBlur(levels[l], (2 * reach + 1, 2 * reach + 1), own, borderType=cv2.BORDER_CONSTANT)
            here = blurred * weight if here is None else cv2.addWeighted(here, 1, blurred, weight, 0)
        if here is None:
            here = np.zeros_like(levels[l])
        if total is not None:
            here = cv2.add(here, cv2.pyrUp(total, dstsize=(here.shape[1], here.shape[0])))
        total = here


def convolution():
    for plane in planes:
        scipy.fft.irfft2(scipy.fft.rfft2(plane, size, workers=threads) * spectrum, size, workers=threads)


def dilation():
    cv2.dilate(matte, disc)


def distance():
    cv2.distanceTransform(binary, cv2.DIST_L2, cv2.DIST_MASK_PRECISE)


def shrink():
    cv2.resize(picture, (w // 2, h // 2), interpolation=cv2.INTER_AREA)


def display():
    x = np.clip(picture[..., :3], 0, 1)
    (np.where(x <= 0.0031308, x * 12.92, 1.055 * x ** (1 / 2.4) - 0.055) * 255 + 0.5).astype(np.uint8)


def exr_read():
    source = oiio.ImageInput.open(exr)
    source.read_image(0, 0, 0, source.spec().nchannels, oiio.UNKNOWN)
    source.close()


def exr_read_beauty():
    source = oiio.ImageInput.open(exr)
    source.read_image(0, 0, 0, 4, oiio.HALF)
    source.close()


half = picture.astype(np.float16)


def exr_write():
    spec = oiio.ImageSpec(w, h, 4, "half")
    spec.attribute("compression", "zip:4")
    target = oiio.ImageOutput.create("/tmp/zafiro-bench-%d.exr" % os.getpid())
    target.open("/tmp/zafiro-bench-%d.exr" % os.getpid(), spec)
    target.write_image(half)
    target.close()


def numbers():
    """Values for the tests, from SciPy: taps of a Gaussian of 1.5."""
    spike = np.zeros(15)
    spike[7] = 1
    from scipy.ndimage import gaussian_filter1d

    print(gaussian_filter1d(spike, 1.5, mode="constant", truncate=4).tolist(), flush=True)


print("OpenCV %s, SciPy %s, NumPy %s, OpenImageIO %s" % (cv2.__version__, scipy.__version__, np.__version__, oiio.VERSION_STRING), flush=True)
for line in sys.stdin:
    name, count = line.split()
    if name == "numbers":
        numbers()
        continue
    threads = int(count)
    cv2.setNumThreads(threads)
    oiio.attribute("threads", threads)
    oiio.attribute("exr_threads", threads if threads > 1 else -1)
    began = time.perf_counter()
    globals()[name]()
    print((time.perf_counter() - began) * 1000, flush=True)
