import type { StepSpec, Value, Values } from '../steps/shared/define';

/** The width, in pixels, that the defaults of lengths are meant for. */
const usualWidth = 1920;

/** The value that a step begins with in a picture `width` pixels wide: its default, or as far, in parts of the picture, as in any other where light spreads. */
export function usualValue({ stage, values }: StepSpec, key: string, width = usualWidth): Value {
  const v = values[key];
  if (stage !== 'light' || v.type !== 'number' || v.unit !== 'px' || v.section !== 'spread') return v.default;
  return Math.min(v.to, Math.max(v.from, Number(((v.default * width) / usualWidth).toPrecision(3))));
}

/** All of them. */
export const usualValues = (spec: StepSpec, width?: number): Values =>
  Object.fromEntries(Object.keys(spec.values).map((key) => [key, usualValue(spec, key, width)]));
