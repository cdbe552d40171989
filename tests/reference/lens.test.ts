import { spawnSync } from 'node:child_process';
import { expect, test } from 'vitest';
import { distortedBy, undistorting } from '../../core/optics/distortion';

/** Laws of lenses against other programs. */

const script = `
import json, sys
import cv2, numpy as np
given = json.load(sys.stdin)
out = []
for k1, k2, k3, r in given:
    eye, dist = np.eye(3), np.array([k1, k2, 0.0, 0.0, k3])
    far, _ = cv2.projectPoints(np.array([[[r, 0.0, 1.0]]]), np.zeros(3), np.zeros(3), eye, dist)
    back = cv2.undistortPointsIter(far.reshape(1, 1, 2), eye, dist, None, None, (cv2.TERM_CRITERIA_COUNT | cv2.TERM_CRITERIA_EPS, 200, 1e-14))
    out.append([float(far[0, 0, 0]), float(back[0, 0, 0])])
json.dump(out, sys.stdout)
`;

test('radial distortion is that of OpenCV (projectPoints, undistortPointsIter), there and back', () => {
  const given: [number, number, number, number][] = [];
  for (const k1 of [-0.15, -0.02, 0.05, 0.3])
    for (const k2 of [-0.03, 0, 0.06])
      for (const k3 of [-0.01, 0.02]) for (const r of [0.1, 0.45, 0.8, 1]) given.push([k1, k2, k3, r]);
  const { stdout, stderr, status } = spawnSync('/usr/bin/python3', ['-c', script], {
    input: JSON.stringify(given),
    encoding: 'utf8',
  });
  expect(status, stderr).toBe(0);
  const found = JSON.parse(stdout) as [number, number][];
  for (const [i, [k1, k2, k3, r]] of given.entries()) {
    const [far, back] = found[i];
    const k = { k1, k2, k3 };
    expect(r * distortedBy(k, r)).toBeCloseTo(far, 9);
    expect(far * undistorting(k)(far)).toBeCloseTo(back, 6);
  }
});
