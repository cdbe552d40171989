import type { Attributes } from '../../../core/formats/exr/types';
import type { FilePart } from '../../../core/formats/file-info';
import { type Pass, passesOf } from '../../../core/formats/passes';
import type { SampleType } from '../../../core/formats/samples';

/** The one part and pass of a file whose format knows neither. */
export function plainPart(
  width: number,
  height: number,
  channels: string[],
  type: SampleType,
  compression: string,
  attributes: Attributes = {},
): { part: FilePart; passes: Pass[] } {
  const window = { xMin: 0, yMin: 0, xMax: width - 1, yMax: height - 1 };
  const part: FilePart = {
    name: '',
    type: 'scanline',
    dataWindow: window,
    displayWindow: window,
    pixelAspectRatio: 1,
    lineOrder: 'increasing',
    compression,
    channels: channels.map((name) => ({ name, type, xSampling: 1, ySampling: 1 })),
    attributes,
  };
  return { part, passes: passesOf([part]).map((p) => ({ ...p, label: 'picture' })) };
}
