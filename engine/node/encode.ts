import sharp from 'sharp';
import { encodeSrgb } from '../../core/colour/srgb';
import type { ExportFormat } from '../../core/formats/export-formats';
import type { Attributes, Box } from '../../core/formats/exr/types';
import { writeExr } from '../../core/formats/exr/write';
import type { FilePart } from '../../core/formats/file-info';
import { floatsToHalves } from '../../core/formats/half';
import type { Picture as Whole } from '../../core/picture/picture';
import { nodeZlib } from './zlib';

export const extension = { exr: 'exr', png16: 'png' } as const satisfies Record<ExportFormat, string>;

/** An encoded frame, and what the user should know about it. */
export type Encoded = { bytes: Uint8Array; note?: string };

/** The pixels of a finished frame; encoders need no more of it. */
type Picture = Pick<Whole, 'width' | 'height' | 'data'>;

const largestHalf = 65504;

/** What describes the source's file, or its colours before they were converted, and not the finished frame. */
const ofTheFile =
  /^(cryptomatte\/|(type|name|version|chunkCount|tiles|view|multiView|preview|chromaticities|screenWindow(Center|Width))$)/;

/** Attributes of the source that still hold for the finished frame. */
function carried(source: FilePart | undefined): Attributes {
  const kept = Object.entries(source?.attributes ?? {}).filter(([name]) => !ofTheFile.test(name));
  return { ...Object.fromEntries(kept), software: { type: 'string', value: 'Zafiro' } };
}

/** EXR: R, G, B, A as half, premultiplied, scene-linear, ZIP. At full size it stands where the source's display window does. */
export function encodeExr(picture: Picture, source?: FilePart): Encoded {
  const { width, height, data } = picture;
  let held = 0;
  const channels = [...'RGBA'].map((name, c) => {
    const plane = new Float32Array(width * height);
    for (let i = 0, p = c; i < plane.length; i++, p += 4) {
      const v = data[p];
      plane[i] = v;
      if (Number.isFinite(v) && Math.abs(v) > largestHalf) {
        plane[i] = Math.sign(v) * largestHalf;
        held++;
      }
    }
    return { name, type: 'half' as const, samples: floatsToHalves(plane) };
  });
  const { screenWindowCenter: centre, screenWindowWidth: wide } = source?.attributes ?? {};
  const display = source?.displayWindow;
  const same =
    display && display.xMax - display.xMin + 1 === width && display.yMax - display.yMin + 1 === height;
  const dataWindow: Box = same ? display : { xMin: 0, yMin: 0, xMax: width - 1, yMax: height - 1 };
  const bytes = writeExr(
    {
      channels,
      dataWindow,
      pixelAspectRatio: source?.pixelAspectRatio,
      screenWindowCenter: centre?.type === 'v2f' ? [centre.value[0], centre.value[1]] : undefined,
      screenWindowWidth: wide?.type === 'float' ? wide.value : undefined,
      attributes: carried(source),
    },
    nodeZlib,
  );
  return {
    bytes,
    note: held ? `${held} values past 65504 were held there, the most a half can say.` : undefined,
  };
}

/** Code of 16 bits; what is not finite or below 0 is 0. */
const code = (v: number) => (v >= 1 ? 65535 : v > 0 ? Math.round(v * 65535) : 0);

/** PNG, 16 bit, straight alpha, sRGB (IEC 61966-2-1). Light without coverage (alpha 0) cannot be kept in a straight file. */
export async function encodePng16(picture: Picture): Promise<Encoded> {
  const { width, height, data } = picture;
  const straight = new Uint16Array(data.length);
  let lost = 0;
  for (let p = 0; p < data.length; p += 4) {
    const a = data[p + 3];
    if (!(a > 0)) {
      // Light that a file of 16 bits would not show is not missed.
      if (code(Math.max(data[p], data[p + 1], data[p + 2])) > 0) lost++;
      continue;
    }
    for (let c = 0; c < 3; c++) straight[p + c] = code(encodeSrgb(data[p + c] / a));
    straight[p + 3] = code(a);
  }
  const bytes = await sharp(straight, { raw: { width, height, channels: 4 } })
    .toColourspace('rgb16')
    .png({ compressionLevel: 6 })
    .toBuffer();
  return {
    bytes,
    note: lost ? `${lost} pixels have light but no alpha, which PNG cannot hold. EXR can.` : undefined,
  };
}
