import { type ColourOp, runColour } from '../../kernels/colour';
import { defineStep, type StepSpec, type ValueSpecs, type ValuesOf } from './define';
import { keep, keepSlots } from './lay';
import { maskedBy } from './masked-by';

type ColourStep<V extends ValueSpecs> = Pick<
  StepSpec<V>,
  | 'id'
  | 'name'
  | 'stage'
  | 'description'
  | 'words'
  | 'version'
  | 'values'
  | 'anywhere'
  | 'order'
  | 'rare'
  | 'editors'
> & {
  summaryValue?: keyof V & string;
  neutral(values: ValuesOf<V>): boolean;
  /** What happens to each pixel by itself. */
  program(values: ValuesOf<V>): readonly ColourOp[];
  start?: StepSpec['start'];
};

/** Declares a step that works on each pixel's colour by itself, inside the mask. */
export const defineColourStep = <const V extends ValueSpecs>(step: ColourStep<V>): StepSpec =>
  defineStep({
    ...(step as unknown as ColourStep<ValueSpecs>),
    slots: keepSlots,
    values: { ...step.values, ...keep },
    reach: () => 0,
    run(workspace, picture, { mask }, v) {
      const after = runColour(workspace, picture, step.program(v as never));
      return maskedBy(workspace, picture, after, mask, v.invert as boolean);
    },
  } as StepSpec as never);
