import type { LayerTransform } from '../../finish/finish';
import { isIdentity } from '../../kernels/transform';
import { transformValues } from '../../steps/prepare/transform';
import type { ValueSpecs, Values } from '../../steps/shared/define';

/** Values with lengths in pixels of the draft in place of the full frame. */
export function draftValues(specs: ValueSpecs, values: Values, scale: number): Values {
  if (scale === 1) return values;
  return Object.fromEntries(
    Object.entries(values).map(([key, value]) => {
      const declared = specs[key];
      return [key, declared.type === 'number' && declared.unit === 'px' ? (value as number) * scale : value];
    }),
  );
}

/** A layer's place in the draft; none where it stays put. */
export const draftTransform = (
  transform: LayerTransform | undefined,
  scale: number,
): LayerTransform | undefined =>
  transform && !isIdentity(transform)
    ? (draftValues(transformValues, transform, scale) as LayerTransform)
    : undefined;
