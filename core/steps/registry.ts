import { depthMist } from './air/depth-mist';
import { depthSoftness } from './air/depth-softness';
import { mistDensity } from './air/mist-density';
import { backing } from './finish/backing';
import { curves } from './finish/curves';
import { gain } from './finish/gain';
import { grade } from './finish/grade';
import { grain } from './finish/grain';
import { levels } from './finish/levels';
import { lookupTable } from './finish/lookup-table';
import { saturation } from './finish/saturation';
import { toneCurve } from './finish/tone-curve';
import { whiteBalance } from './finish/white-balance';
import { alphaEdge } from './isolate/alpha-edge';
import { asMatte } from './isolate/as-matte';
import { channelRange } from './isolate/channel-range';
import { clean } from './isolate/clean';
import { colourKey } from './isolate/colour-key';
import { combine } from './isolate/combine';
import { depthRange } from './isolate/depth-range';
import { facing } from './isolate/facing';
import { feather } from './isolate/feather';
import { growShrink } from './isolate/grow-shrink';
import { invert } from './isolate/invert';
import { luminanceKey } from './isolate/luminance-key';
import { matteLevels } from './isolate/matte-levels';
import { positionSolid } from './isolate/position-solid';
import { temporalFilter } from './isolate/temporal-filter';
import { blur } from './lens/blur';
import { defocus } from './lens/defocus';
import { distortion } from './lens/distortion';
import { fringe } from './lens/fringe';
import { motionSmear } from './lens/motion-smear';
import { sharpen } from './lens/sharpen';
import { vignette } from './lens/vignette';
import { warp } from './lens/warp';
import { apertureSpikes } from './light/aperture-spikes';
import { bloom } from './light/bloom';
import { glare } from './light/glare';
import { glow } from './light/glow';
import { lensReflections } from './light/lens-reflections';
import { lightRays } from './light/light-rays';
import { spikes } from './light/spikes';
import { caption } from './prepare/caption';
import { join } from './prepare/join';
import { opacity } from './prepare/opacity';
import { pickChannels } from './prepare/pick-channels';
import { premultiply } from './prepare/premultiply';
import { repair } from './prepare/repair';
import { transform } from './prepare/transform';
import { unpremultiply } from './prepare/unpremultiply';
import { recipe, recipeInput } from './recipe';
import type { StepSpec } from './shared/define';
import { edgeLight } from './surface/edge-light';
import { formShade } from './surface/form-shade';
import { glass } from './surface/glass';
import { repaint } from './surface/repaint';
import { warmSpill } from './surface/warm-spill';

/** Every step that can be chosen: adding one means adding its file and a line here. */
export const steps: readonly StepSpec[] = [
  join,
  opacity,
  transform,
  pickChannels,
  premultiply,
  unpremultiply,
  caption,
  repair,
  luminanceKey,
  colourKey,
  depthRange,
  channelRange,
  facing,
  positionSolid,
  asMatte,
  alphaEdge,
  growShrink,
  feather,
  invert,
  matteLevels,
  combine,
  clean,
  temporalFilter,
  repaint,
  glass,
  formShade,
  edgeLight,
  warmSpill,
  depthMist,
  mistDensity,
  depthSoftness,
  glow,
  bloom,
  glare,
  spikes,
  apertureSpikes,
  lensReflections,
  lightRays,
  blur,
  sharpen,
  defocus,
  motionSmear,
  fringe,
  distortion,
  vignette,
  warp,
  whiteBalance,
  gain,
  grade,
  levels,
  curves,
  saturation,
  lookupTable,
  toneCurve,
  grain,
  backing,
];

const byId = new Map([...steps, recipeInput, recipe].map((s) => [s.id, s]));

/** The declaration of step `id`; undefined where this version of Zafiro has no such step. */
export const stepSpec = (id: string): StepSpec | undefined => byId.get(id);
