import type { Attributes, Zlib } from '../../core/formats/exr/types';
import { type ChannelToWrite, writeExr } from '../../core/formats/exr/write';
import { floatsToHalves } from '../../core/formats/half';
import { idFloat, idMatteAttributes } from '../../core/formats/id-mattes';
import { type Buffers, ranks, size } from './render';
import { type Scene, sceneAt } from './scene';

/** One channel of interleaved samples. */
function pick(from: Float32Array, stride: number, offset: number): Float32Array {
  const out = new Float32Array(from.length / stride);
  for (let i = 0, p = offset; i < out.length; i++, p += stride) out[i] = from[p];
  return out;
}

type Camera = Scene['camera'];
const dot = (a: readonly number[], b: readonly number[]) => a[0] * b[0] + a[1] * b[1] + a[2] * b[2];

/** World to a camera that looks along −z, for row vectors (p · M), as the standard attribute has it. */
function worldToCamera({ x, y, z, right, up, forward }: Camera): number[] {
  const eye = [x, y, z];
  const rows = [0, 1, 2].map((i) => [right[i], up[i], -forward[i], 0]);
  return [...rows.flat(), -dot(right, eye), -dot(up, eye), dot(forward, eye), 1];
}

/** World to the picture: after division by w, x and y run from −1 to 1 over its width and height. */
function worldToNdc(camera: Camera): number[] {
  const across = 1 / camera.tanHalf;
  const upward = (across * size.width) / size.height;
  const m = worldToCamera(camera);
  return [0, 4, 8, 12].flatMap((row) => [m[row] * across, m[row + 1] * upward, m[row + 2], -m[row + 2]]);
}

/** What a file says of its camera. */
export const cameraAttributes = (camera: Camera): Attributes => ({
  worldToCamera: { type: 'm44f', value: worldToCamera(camera) },
  worldToNDC: { type: 'm44f', value: worldToNdc(camera) },
  cameraPosition: { type: 'v3f', value: [camera.x, camera.y, camera.z] },
  cameraForward: { type: 'v3f', value: [...camera.forward] },
  cameraUp: { type: 'v3f', value: [...camera.up] },
  /** Degrees across the width, as in the standard attributes. */
  fieldOfView: { type: 'float', value: (Math.atan(camera.tanHalf) * 360) / Math.PI },
});

/** A frame of Orrery Hall as a multi-layer EXR file: colour as half, data as float, ids as uint. */
export function writeFrame(frame: number, b: Buffers, zlib: Zlib): Uint8Array {
  const { objects, camera } = sceneAt(frame);
  const channels: ChannelToWrite[] = [];
  const colours = {
    '': b.beauty,
    'sun.': b.sun,
    'fill.': b.fill,
    'reflection.': b.reflection,
    'emission.': b.emission,
  };
  for (const [layer, samples] of Object.entries(colours)) {
    const parts = layer === '' ? 'RGBA' : 'RGB';
    for (const [i, part] of [...parts].entries()) {
      channels.push({
        name: layer + part,
        type: 'half',
        samples: floatsToHalves(pick(samples, parts.length, i)),
      });
    }
  }
  channels.push({ name: 'depth.Z', type: 'float', samples: b.depth });
  for (const [i, axis] of [...'XYZ'].entries()) {
    channels.push({ name: `position.${axis}`, type: 'float', samples: pick(b.position, 3, i) });
    channels.push({ name: `normal.${axis}`, type: 'half', samples: floatsToHalves(pick(b.normal, 3, i)) });
  }
  channels.push({ name: 'object.id', type: 'uint', samples: b.object });

  const ids = Float32Array.from([0, ...objects.map((o) => idFloat(o.name))]);
  for (let rank = 0; rank < ranks; rank++) {
    const layer = `idobject${String(rank >> 1).padStart(2, '0')}`;
    const [id, coverage] = rank % 2 === 0 ? 'RG' : 'BA';
    const numbers = pick(b.coverage, ranks * 2, rank * 2);
    channels.push({ name: `${layer}.${id}`, type: 'float', samples: numbers.map((n) => ids[n]) });
    channels.push({
      name: `${layer}.${coverage}`,
      type: 'float',
      samples: pick(b.coverage, ranks * 2, rank * 2 + 1),
    });
  }
  const attributes: Attributes = {
    ...idMatteAttributes(
      'idobject',
      objects.map((o) => o.name),
    ),
    ...cameraAttributes(camera),
    framesPerSecond: { type: 'rational', value: [24, 1] },
    imageCounter: { type: 'int', value: frame },
    owner: { type: 'string', value: 'Zafiro demo, Orrery Hall' },
  };
  const dataWindow = { xMin: 0, yMin: 0, xMax: size.width - 1, yMax: size.height - 1 };
  return writeExr({ channels, dataWindow, attributes }, zlib);
}
