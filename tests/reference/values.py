"""Values of reference libraries for the kernels' tests: python3 tests/reference/values.py > tests/reference/values.json"""
import json

import cv2
import numpy as np
import scipy
from scipy.ndimage import gaussian_filter, map_coordinates
from scipy.signal import convolve2d

rng = np.random.default_rng(7)
w, h = 23, 17
picture = rng.random((h, w)).astype(np.float32)
picture[4, 5] = 40
kernel = rng.random((5, 7)).astype(np.float32)
matte = (rng.random((h, w)) > 0.93).astype(np.float32)
disc = np.fromfunction(lambda y, x: (x - 4) ** 2 + (y - 4) ** 2 <= 16, (9, 9)).astype(np.uint8)
ys, xs = np.mgrid[0:9, 0:11]
places = [0.3 * xs + 0.8 * ys + 1, 0.9 * xs - 0.2 * ys + 4]


def numbers(a):
    return [round(float(v), 7) for v in np.asarray(a).ravel()]


print(json.dumps({
    "made with": "SciPy %s, OpenCV %s, NumPy %s (Debian)" % (scipy.__version__, cv2.__version__, np.__version__),
    "width": w, "height": h, "picture": numbers(picture), "kernel": numbers(kernel), "matte": numbers(matte),
    # truncate = 4 is our reach of 4 sigma; mode constant is black outside, nearest the border continued.
    "gaussian 1.5 black": numbers(gaussian_filter(picture, 1.5, mode="constant", truncate=4)),
    "gaussian 1.5 continued": numbers(gaussian_filter(picture, 1.5, mode="nearest", truncate=4)),
    "gaussian 8 continued": numbers(gaussian_filter(picture, 8, mode="nearest", truncate=8)),
    "convolution": numbers(convolve2d(picture, kernel, mode="full")[2:2 + h, 3:3 + w]),
    "distance": numbers(cv2.distanceTransform((1 - matte).astype(np.uint8), cv2.DIST_L2, cv2.DIST_MASK_PRECISE)),
    "dilation 4": numbers(cv2.dilate(picture, disc)),
    "halves": [int(v) for v in (picture * 300 - 20).astype(np.float16).view(np.uint16).ravel()],
    "area mean": numbers(cv2.resize(picture[:16, :22], (11, 8), interpolation=cv2.INTER_AREA)),
    "bilinear": numbers(map_coordinates(picture, places, order=1, mode="constant")),
}))
