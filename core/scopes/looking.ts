import { midGrey } from '../colour/luminance';
import { keptTable } from '../formats/cube-op';
import { type ColourOp, runColour, scaled } from '../kernels/colour';
import { toDisplay, type View } from '../kernels/display';
import { checker } from '../kernels/join';
import { fill, over } from '../kernels/point';
import type { Workspace } from '../kernels/workspace';
import type { Picture } from '../picture/picture';

/** Backing: shown behind a transparent picture in the viewer, not part of the picture. */
export const backings = { black: 'Black', grey: 'Grey', white: 'White', checker: 'Squares' } as const;
export type Backing = keyof typeof backings;

export const screens = {
  plain: 'As it is',
  reinhard: 'Reinhard',
  hable: 'Hable',
  table: 'Lookup table',
} as const;
export type Screen = { by: Exclude<keyof typeof screens, 'table'> } | { by: 'table'; table: string };

/** Stops above mid-grey that become white, and how far lights keep their hue. */
const [screenWhite, screenHue] = [6, 0.4];

/** What happens to light on its way to the screen, at an exposure; nothing where it is shown as it is. */
function screenProgram(screen: Screen, stops: number): ColourOp[] {
  const by = 2 ** stops;
  const exposed = scaled([by, by, by]);
  if (screen.by === 'plain') return [];
  if (screen.by !== 'table')
    return [
      exposed,
      { type: 'tone', curve: screen.by, white: midGrey * 2 ** screenWhite, byLuminance: screenHue },
    ];
  const table = keptTable(screen.table);
  const srgb = { type: 'srgb' } as const;
  return table
    ? [
        exposed,
        { type: 'transfer', by: srgb, back: false },
        table,
        { type: 'transfer', by: srgb, back: true },
      ]
    : [];
}

/** A picture as light is to leave a screen: the numbers that codes are made of. */
export function screened(workspace: Workspace, picture: Picture, screen: Screen, stops: number): Picture {
  const program = screenProgram(screen, stops);
  if (program.length > 0) return runColour(workspace, picture, program);
  const by = 2 ** stops;
  return by === 1 ? picture : runColour(workspace, picture, [scaled([by, by, by])]);
}

/** How the viewer looks at a picture. */
export type Looking = View & {
  backing: Backing;
  /** Display gamma on top of the screen's own curve; 1 changes nothing. */
  gamma: number;
  /** How light comes to the screen: as it is where it is not said, by a published curve, or by a packed table for sRGB codes. */
  screen?: Screen;
  /** Marks what is past white at this exposure, below 0, or not finite. */
  marks: boolean;
};

const greys = { black: 0, grey: 0.18, white: 1 } as const;
/** Past white, below 0, not finite: sRGB codes. */
const markColours = [
  [242, 180, 95],
  [111, 157, 255],
  [255, 0, 255],
];

function behind(workspace: Workspace, { width, height }: Picture, backing: Backing): Picture {
  if (backing === 'checker') return checker(workspace, width, height, 12, 0.12, 0.24);
  const grey = greys[backing];
  return fill(workspace, width, height, [grey, grey, grey, 1]);
}

/** sRGB bytes of a picture as the viewer shows it. */
export function lookAt(workspace: Workspace, picture: Picture, o: Looking): Uint8ClampedArray<ArrayBuffer> {
  // Over black nothing changes: the display is opaque.
  const laid =
    o.look === 'colour' && o.backing !== 'black' && !o.range
      ? over(workspace, picture, behind(workspace, picture, o.backing))
      : picture;
  const program = o.look === 'colour' && !o.range ? screenProgram(o.screen ?? { by: 'plain' }, o.stops) : [];
  const seen = program.length > 0 ? runColour(workspace, laid, program) : laid;
  const pixels = toDisplay(workspace, seen, program.length > 0 ? { ...o, stops: 0 } : o);
  for (const taken of new Set([laid, seen])) if (taken !== picture) workspace.drop(taken);
  if (o.gamma !== 1) {
    const curve = Uint8ClampedArray.from({ length: 256 }, (_, c) => 255 * (c / 255) ** (1 / o.gamma));
    for (let i = 0; i < pixels.length; i++) if ((i & 3) !== 3) pixels[i] = curve[pixels[i]];
  }
  if (o.marks) mark(picture, pixels, 2 ** -o.stops);
  return pixels;
}

/** Paints stripes over pixels whose colour lies past white, below 0, or is not finite. */
function mark({ width, data }: Picture, pixels: Uint8ClampedArray, white: number) {
  for (let p = 0; p < data.length; p += 4) {
    const [r, g, b] = [data[p], data[p + 1], data[p + 2]];
    const sum = r + g + b;
    const type =
      sum - sum !== 0 ? 2 : r < 0 || g < 0 || b < 0 ? 1 : r > white || g > white || b > white ? 0 : -1;
    if (type < 0) continue;
    const i = p >> 2;
    // Stripes for what is only bright, so that the picture stays to be seen.
    if (type === 0 && ((i % width) + Math.floor(i / width)) % 6 > 2) continue;
    pixels.set(markColours[type], p);
  }
}

/** |a − b| times `gain`, opaque. Both have the same size. */
export function difference(workspace: Workspace, a: Picture, b: Picture, gain: number): Picture {
  const out = workspace.picture(a.width, a.height);
  for (let i = 0; i < out.data.length; i++)
    out.data[i] = (i & 3) === 3 ? 1 : Math.abs(a.data[i] - b.data[i]) * gain;
  return out;
}

/** How a matte is shown over a picture. */
export const matteLooks = {
  off: 'Not shown',
  tint: 'As a tint',
  outline: 'As an outline',
  black: 'On black',
} as const;
export type MatteLook = keyof typeof matteLooks;

const tintColour = [111, 157, 255] as const;

/** Shows where a matte is in shown pixels, as many of both: tinted half-way at 1, its edge at one half drawn, or all else black. */
export function showMatte(
  pixels: Uint8ClampedArray,
  { width, data }: Pick<Picture, 'width' | 'data'>,
  look: MatteLook,
) {
  for (let i = 0; i < data.length; i++) {
    const inside = data[i] >= 0.5;
    const edge = () =>
      (i % width > 0 && data[i - 1] >= 0.5 !== inside) || (i >= width && data[i - width] >= 0.5 !== inside);
    const share = look === 'tint' ? data[i] * 0.55 : look === 'outline' ? (edge() ? 1 : 0) : 1 - data[i];
    if (!(share > 0)) continue;
    const to = look === 'black' ? [0, 0, 0] : tintColour;
    for (let c = 0; c < 3; c++) pixels[i * 4 + c] += (to[c] - pixels[i * 4 + c]) * share;
  }
}

/** Mean of a matte: the share of the frame that it covers. */
export function coveredShare({ data }: Pick<Picture, 'data'>): number {
  let sum = 0;
  for (let i = 0; i < data.length; i++) sum += data[i];
  return sum / (data.length || 1);
}

/**
 * The values of a data pass that are shown darkest and brightest: its 1st and 99th percentiles, so that a glimpse of the horizon does not press
 * the rest together. [0, 1] where nothing is finite.
 */
export function dataRange({ channels, data }: Pick<Picture, 'channels' | 'data'>): [number, number] {
  // Every so many values are enough for a percentile that only scales a picture.
  const every = Math.max(1, Math.floor(data.length / channels / 65_536)) * channels;
  const values: number[] = [];
  for (let i = 0; i < data.length; i += every)
    for (let c = 0; c < Math.min(3, channels); c++) {
      const v = data[i + c];
      // Some renderers write a very large number where there is nothing.
      if (Number.isFinite(v) && Math.abs(v) < 1e9) values.push(v);
    }
  const sorted = Float64Array.from(values).sort();
  const at = (share: number) => sorted[Math.min(sorted.length - 1, Math.floor(share * sorted.length))];
  const [low, high] = [at(0.01), at(0.99)];
  return low < high ? [low, high] : low !== undefined ? [low, low + 1] : [0, 1];
}
