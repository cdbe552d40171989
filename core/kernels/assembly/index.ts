/** All kernels in one small module. Each works on a range `lo` … `hi` so that threads share it, with scratch of its own. */

export { layMist, mistDensity, mistEdges, mixPasses, softened, timesPlane } from './air';
export { predict, unpredict } from './bytes';
export { confusion, double, halve, holesBegin, holesDown, holesFill, holesUp, intoBands, layerPart, layOver, outOfBands } from './depth';
export { display } from './convert';
export { colourProgram } from './colour';
export { cover } from './cover';
export { fftColours, fftColumns, fftRows, fftRowsBack } from './fourier';
export { gatherIn } from './gather';
export { blurInto, gaussianColumns, gaussianRows, recursiveColumns, recursiveRows } from './gaussian';
export { checker, join, mix, pick, ramp } from './join';
export { rangeKey, colourKey, facingKey, positionKey } from './key';
export {
  convolveSmall,
  fringe,
  grained,
  longestVectors,
  radial,
  smear,
  unsharp,
  vignette,
  whiteNoise,
} from './lens';
export { linesIn, linesOut } from './lines';
export {
  clean,
  combine,
  flatIds,
  levels,
  mixPlanes,
  ofPlane,
  rankedIds,
  shrinkPlane,
  temporalFilter,
  toPlane,
  unweave,
  weave,
} from './plane';
export {
  copy,
  fill,
  lay,
  matte,
  oneColour,
  over,
  plus,
  premultiply,
  strength,
  take,
  unpremultiply,
  weightedSum,
} from './point';
export { addUp, down } from './pyramid';
export { repair } from './repair';
export { addThrown, resample, shrink } from './sample';
export { halvesOf, placeCodes, placeSamples } from './samples';
export { blendPlanes, dilate, distanceColumns, distanceRows, growRows } from './shape';
export { streaks, transpose } from './streaks';
export { fadeAround, fadeAway, shade, shareOf, spreadUnder } from './surface';
export { warp } from './warp';
