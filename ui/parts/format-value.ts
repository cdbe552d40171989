import { encodeSrgb } from '@/core/colour/srgb';
import type { Rgb } from '@/core/math/rgb';
import type { Value, ValueSpec } from '@/core/steps/shared/define';
import { t } from '../words/words';

/** A number with as many digits as are worth reading. */
export function formatNumber(v: number): string {
  const size = Math.abs(v);
  return v.toFixed(size >= 100 ? 0 : size >= 10 ? 1 : 2);
}

export const unitSign = { px: 'px', light: '', ratio: '', degrees: '°', scene: '' } as const;

/** A value in the words of the interface. */
export function formatValue(spec: ValueSpec, value: Value): string {
  switch (spec.type) {
    case 'number':
      if (value === 0 && spec.zeroLabel) return spec.zeroLabel;
      if (spec.whole) return String(value);
      return `${formatNumber(value as number)} ${unitSign[spec.unit]}`.trim();
    case 'choice':
      return spec.options[value as string];
    case 'toggle':
      return value ? t`on` : t`off`;
    case 'text':
      return value as string;
    case 'rows':
      return t`${(value as readonly unknown[]).length} of ${spec.most}`;
    case 'path':
      return t`${(value as readonly unknown[]).length} points`;
    case 'colours':
      return t`${(value as readonly unknown[]).length} colours`;
    case 'colour':
      return (value as readonly number[]).map(formatNumber).join(' ');
  }
}

/** A scene-linear value, also one that is not finite. */
export const formatLight = (v: number) =>
  Number.isFinite(v) ? v.toFixed(Math.abs(v) >= 100 ? 1 : 4) : v > 0 ? '∞' : v < 0 ? '−∞' : 'NaN';

/** How a linear colour is shown. */
export const toHex = (c: Rgb) =>
  `#${c
    .map((v) =>
      Math.round(Math.min(1, encodeSrgb(v)) * 255)
        .toString(16)
        .padStart(2, '0'),
    )
    .join('')}`;

/** Bytes in the largest unit that gives at least one. */
export function formatBytes(bytes: number): string {
  const units = ['bytes', 'KB', 'MB', 'GB', 'TB'];
  const at = bytes < 1 ? 0 : Math.min(units.length - 1, Math.floor(Math.log2(bytes) / 10));
  const value = bytes / 2 ** (10 * at);
  return `${value.toFixed(at === 0 || value >= 100 ? 0 : 1)} ${units[at]}`;
}
