"""What one would write by hand in place of `zafiro run` of Lamps lit: read, take the light, blur, add, write; a process a core.

Arguments: processes, pattern with %04d for the frames, the same for the results, first and last frame. Writes the seconds it took.
"""
import multiprocessing
import sys
import time

import cv2
import numpy as np
import OpenImageIO as oiio

processes, source, target, first, last = int(sys.argv[1]), sys.argv[2], sys.argv[3], int(sys.argv[4]), int(sys.argv[5])
THRESHOLD, KNEE, AMOUNT, RADIUS = 2.0, 1.0, 0.8, 180.0


def bloom(light):
    """Seven Gaussians, each half as wide as the one before, on levels of half the size."""
    sigma, levels = RADIUS / 3, [light]
    while sigma / 2 ** (len(levels) - 1) > 2:
        levels.append(cv2.pyrDown(levels[-1]))
    total = None
    for i in range(len(levels) - 1, -1, -1):
        here = cv2.GaussianBlur(levels[i], (0, 0), 2, borderType=cv2.BORDER_CONSTANT) / len(levels)
        if total is not None:
            here += cv2.pyrUp(total, dstsize=(here.shape[1], here.shape[0]))
        total = here
    return total


def finish(frame):
    cv2.setNumThreads(1)
    oiio.attribute("threads", 1)
    file = oiio.ImageInput.open(source % frame)
    spec = file.spec()
    names = list(spec.channelnames)
    begin = names.index("R") if names.index("R") + 3 == names.index("A") else min(names.index(c) for c in "RGBA")
    picture = np.ascontiguousarray(file.read_image(0, 0, begin, begin + 4, "float"))
    file.close()
    luminance = picture[..., :3] @ np.array([0.2126, 0.7152, 0.0722], np.float32)
    soft = np.clip(luminance - THRESHOLD + KNEE, 0, 2 * KNEE) ** 2 / (4 * KNEE)
    taken = np.maximum(soft, luminance - THRESHOLD) / np.maximum(luminance, 1e-6)
    light = picture * taken[..., None]
    light[..., 3] = 0
    result = picture + AMOUNT * bloom(light)
    out = oiio.ImageSpec(spec.width, spec.height, 4, "half")
    out.attribute("compression", "zip:4")
    writer = oiio.ImageOutput.create(target % frame)
    writer.open(target % frame, out)
    writer.write_image(result)
    writer.close()


if __name__ == "__main__":
    began = time.perf_counter()
    with multiprocessing.Pool(processes) as pool:
        pool.map(finish, range(first, last + 1), 1)
    print(time.perf_counter() - began)
