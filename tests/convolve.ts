import type { Desk } from '../core/kernels/desk';
import { convolve, kernelSpectrum } from '../core/kernels/fourier';
import type { Picture } from '../core/picture/picture';

/** A picture convolved with a kernel that is used once. */
export function convolveWith(desk: Desk, from: Picture, kernel: Picture): Picture {
  const spectrum = kernelSpectrum(desk.machine, kernel, from.width, from.height);
  try {
    return convolve(desk, from, spectrum);
  } finally {
    spectrum.drop();
  }
}
