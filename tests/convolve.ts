import { convolve, kernelSpectrum } from '../core/kernels/fourier';
import type { Workspace } from '../core/kernels/workspace';
import type { Picture } from '../core/picture/picture';

/** A picture convolved with a kernel that is used once. */
export function convolveWith(workspace: Workspace, from: Picture, kernel: Picture): Picture {
  const spectrum = kernelSpectrum(workspace.runtime, kernel, from.width, from.height);
  try {
    return convolve(workspace, from, spectrum);
  } finally {
    spectrum.drop();
  }
}
