import type { Given } from '@/api/contract';
import type { createExport } from '@/api/exports';
import {
  type ExportFormat,
  exportFormats,
  isExr,
  isForScreens,
  type MovieCodec,
  movieCodecs,
  movieFrames,
} from '@/core/formats/export-formats';
import { t } from '../words/words';

/** What the form of an export holds; what a format has no use for waits until it is chosen again. */
export type FormValues = {
  frames: string;
  name: string;
  output: string;
  /** A format of frames, or `movie:` and a codec. */
  format: ExportFormat | `movie:${MovieCodec}`;
  outputs: string[];
  arrangement: 'layers' | 'parts';
  channels: 'rgba' | 'rgb' | 'alpha';
  compression: string;
  level: number;
  quality: number;
  trim: boolean;
  carriesAttributes: boolean;
  carriesFinish: boolean;
  stops: number;
  screen: string;
  caption: boolean;
  rate: number;
  height: number;
  movieQuality: string;
  into: string;
  standing: boolean;
};

export const formats = {
  ...exportFormats,
  ...(Object.fromEntries(
    Object.entries(movieCodecs).map(([codec, name]) => [`movie:${codec}`, t`Movie — ${name}`]),
  ) as Record<`movie:${MovieCodec}`, string>),
};

export const movieOf = (format: FormValues['format']): MovieCodec | undefined =>
  format.startsWith('movie:') ? (format.slice('movie:'.length) as MovieCodec) : undefined;

/** The format of the frames, also of those that become a movie. */
export function frameFormat(format: FormValues['format']): ExportFormat {
  const codec = movieOf(format);
  return codec ? movieFrames(codec) : (format as ExportFormat);
}

/** Fields that a preset keeps: how frames are written, and nothing of the shot. */
export const ofPreset = [
  ...(['format', 'arrangement', 'channels', 'compression', 'level', 'quality', 'trim'] as const),
  ...(['carriesAttributes', 'carriesFinish', 'stops', 'screen', 'caption', 'rate', 'height'] as const),
  ...(['movieQuality', 'into', 'standing'] as const),
] satisfies (keyof FormValues)[];

type Body = Given<typeof createExport>['body'];

/** What is asked of the server. */
export function bodyOf(
  values: FormValues,
  caption: string,
): Omit<Body, 'shot' | 'document' | 'overwrites' | 'version'> {
  const codec = movieOf(values.format);
  const format = frameFormat(values.format);
  const { frames, name, output, into } = values;
  return {
    ...{ frames, name, format },
    ...(output ? { output } : {}),
    ...(into ? { into } : {}),
    standing: !codec && values.standing,
    channels: values.channels,
    carriesFinish: values.carriesFinish,
    ...(isExr(format)
      ? {
          compression: values.compression as Body['compression'],
          level: values.level,
          outputs: values.outputs,
          arrangement: values.arrangement,
          trim: values.trim,
          carriesAttributes: values.carriesAttributes,
        }
      : {}),
    ...(format === 'jpeg' ? { quality: values.quality } : {}),
    ...(isForScreens(format)
      ? {
          view: { stops: values.stops, screen: values.screen as 'plain' },
          ...(values.caption ? { caption } : {}),
        }
      : {}),
    ...(codec
      ? {
          movie: {
            codec,
            rate: values.rate,
            height: values.height as 0,
            quality: values.movieQuality as 'good',
          },
        }
      : {}),
  };
}
