import type { PassContents } from '@/api/media';
import { mostIds } from '@/core/scopes/pass-content';
import { t } from '../words/words';

/** A pass as the server describes it. */
export type PassSummary = PassContents;

const short = (v: number) =>
  Math.abs(v) >= 1e5 || (v !== 0 && Math.abs(v) < 1e-3)
    ? v.toExponential(1)
    : String(Number(v.toPrecision(4)));

/** Least to largest value over all channels. */
export function rangeOf({ content, names }: PassSummary): string {
  const { idCount } = content;
  if (idCount !== undefined) {
    const ids = idCount >= mostIds ? t`${mostIds} ids or more` : `${idCount} ids`;
    if (!names) return ids;
    return names.named === idCount ? t`${ids}, all named` : `${ids}, ${names.named} named`;
  }
  const known = content.ranges.filter((r) => r !== null);
  if (known.length === 0) return t`no finite value`;
  return `${short(Math.min(...known.map((r) => r[0])))} to ${short(Math.max(...known.map((r) => r[1])))}`;
}
