import { defaultsOf, type StepSpec, type Values } from '../steps/define';

/** The width, in pixels, that the defaults of lengths are meant for. */
export const usualWidth = 1920;

/** Values that a step begins with in a picture `width` pixels wide: its defaults, with light that spreads as far, in parts of the picture, as in any other. */
export function usualValues({ stage, values: specs }: StepSpec, width = usualWidth): Values {
  const values = defaultsOf(specs);
  if (stage === 'light')
    for (const [key, v] of Object.entries(specs))
      if (v.type === 'number' && v.unit === 'px' && v.section === 'spread')
        values[key] = Math.min(
          v.to,
          Math.max(v.from, Number(((v.default * width) / usualWidth).toPrecision(3))),
        );
  return values;
}
