import { blank, type Picture } from './picture';

/** Size of a draft of a `width` by `height` picture; never below one pixel. */
export function draftSize(width: number, height: number, scale: number): { width: number; height: number } {
  return { width: Math.max(1, Math.round(width * scale)), height: Math.max(1, Math.round(height * scale)) };
}

/**
 * `picture` scaled down by averaging: each new pixel is the mean of the area it covers, with exact shares at the
 * edges, so sums (and with them the light in the picture) are kept. Scale 1 gives the picture itself.
 * Data passes must not be averaged: `nearest` takes the pixel at the centre.
 */
export function scaleDown(picture: Picture, scale: number, how: 'mean' | 'nearest' = 'mean'): Picture {
  const { width, height } = draftSize(picture.width, picture.height, scale);
  if (width === picture.width && height === picture.height) return picture;
  if (how === 'nearest') return pickCentres(picture, width, height);
  const rows = averageRows(picture, width);
  return averageColumns(rows, height);
}

function pickCentres(from: Picture, width: number, height: number): Picture {
  const to = blank(width, height, from.channels);
  const n = from.channels;
  for (let y = 0; y < height; y++) {
    const row = Math.floor(((y + 0.5) * from.height) / height) * from.width;
    for (let x = 0; x < width; x++) {
      const source = (row + Math.floor(((x + 0.5) * from.width) / width)) * n;
      for (let c = 0; c < n; c++) to.data[(y * width + x) * n + c] = from.data[source + c];
    }
  }
  return to;
}

/** For each new index the old ones it covers, with their shares (sum 1). */
function covers(from: number, to: number): { first: number; shares: number[] }[] {
  const ratio = from / to;
  return Array.from({ length: to }, (_, i) => {
    const [start, end] = [i * ratio, Math.min(from, (i + 1) * ratio)];
    const first = Math.floor(start);
    const shares: number[] = [];
    for (let j = first; j < end - 1e-9; j++)
      shares.push((Math.min(end, j + 1) - Math.max(start, j)) / (end - start));
    return { first, shares };
  });
}

function averageRows(from: Picture, width: number): Picture {
  const to = blank(width, from.height, from.channels);
  const n = from.channels;
  const plan = covers(from.width, width);
  for (let y = 0; y < from.height; y++) {
    for (let x = 0; x < width; x++) {
      const { first, shares } = plan[x];
      for (let c = 0; c < n; c++) {
        let sum = 0;
        for (let k = 0; k < shares.length; k++)
          sum += from.data[(y * from.width + first + k) * n + c] * shares[k];
        to.data[(y * width + x) * n + c] = sum;
      }
    }
  }
  return to;
}

function averageColumns(from: Picture, height: number): Picture {
  const to = blank(from.width, height, from.channels);
  const stride = from.width * from.channels;
  covers(from.height, height).forEach(({ first, shares }, y) => {
    for (let i = 0; i < stride; i++) {
      let sum = 0;
      for (let k = 0; k < shares.length; k++) sum += from.data[(first + k) * stride + i] * shares[k];
      to.data[y * stride + i] = sum;
    }
  });
  return to;
}
