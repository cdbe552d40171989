export type Size = { width: number; height: number };
/** A part of a picture of size `of`, in whole pixels. */
export type Region = { x: number; y: number; width: number; height: number; of: Size };
export type Box = Omit<Region, 'of'>;

/** Steps that halve pictures again and again find the same pixels in a part as in the whole if it begins at such a multiple. */
const grid = 64;

const span = (from: number, to: number, most: number) => {
  const low = Math.max(0, Math.floor(from / grid) * grid);
  return [low, Math.min(most, Math.ceil(to / grid) * grid) - low] as const;
};

/** The region with `by` pixels more on every side, on the grid, within the picture; undefined where that is all of it. */
export function grown(region: Region, by: number): Region | undefined {
  if (!Number.isFinite(by)) return undefined;
  const { of } = region;
  const [x, width] = span(region.x - by, region.x + region.width + by, of.width);
  const [y, height] = span(region.y - by, region.y + region.height + by, of.height);
  return width === of.width && height === of.height ? undefined : { x, y, width, height, of };
}

/** A region of the full frame in pixels of a draft. */
export function drafted({ x, y, width, height, of }: Region, size: Size): Region {
  const [sx, sy] = [size.width / of.width, size.height / of.height];
  const [x0, y0] = [Math.floor(x * sx), Math.floor(y * sy)];
  return {
    x: x0,
    y: y0,
    width: Math.max(1, Math.min(size.width, Math.ceil((x + width) * sx)) - x0),
    height: Math.max(1, Math.min(size.height, Math.ceil((y + height) * sy)) - y0),
    of: size,
  };
}
