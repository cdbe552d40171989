import type { Box } from './exr/types';
import type { Colour } from './pass-picture';
import type { Pass } from './passes';

/**
 * The header that goes beside the bytes of a pass on their way to the browser: planes over its data window, one after another in the
 * type of the file, little-endian; RGBA floats of a draft; or nothing, of a size. `partial` says what the file lacks.
 */
export type PassInfo =
  | { type: 'planes'; pass: Pass; dataWindow: Box; displayWindow: Box; colour: Colour; partial?: string }
  | { type: 'draft'; width: number; height: number; partial?: string }
  | { type: 'empty'; width: number; height: number };
