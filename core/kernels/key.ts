import { oklab } from '../colour/oklab';
import { cosTurns, sinTurns } from '../math/elementary';
import type { Rgb } from '../math/rgb';
import type { Picture } from '../picture/picture';
import { planeLike } from './plane';
import { onPixels } from './point';
import { frameOf, type Workspace } from './workspace';

const rowPiece = 16;

export type ValueRange = { low: number; lowSoft: number; high: number; highSoft: number };
export const rangeChannels = ['red', 'green', 'blue', 'alpha', 'luminance'] as const;
export type RangeChannel = (typeof rangeChannels)[number];

/**
 * 1 where a channel is between `low` and `high`, falling to 0 (smoothstep) over the softness on each side of that. Not a number
 * is outside; so is infinity, unless `high` is infinite.
 */
export function rangeKey(workspace: Workspace, from: Picture, channel: RangeChannel, b: ValueRange): Picture {
  const args = { from: from.at, channel: rangeChannels.indexOf(channel), ...b };
  return onPixels(workspace, 'rangeKey', planeLike(workspace, from), args);
}

export type ColourRange = { samples: readonly Rgb[]; near: number; soft: number; lightness: number };

/**
 * 1 where the colour, not multiplied by alpha, lies within `near` of a sample in OKLab (lightness weighted), falling to 0 over
 * `soft` beyond; times alpha, unless it is to be `whole`. Nothing where alpha is 0.
 */
export function colourKey(
  workspace: Workspace,
  from: Picture,
  { samples, near, soft, lightness }: ColourRange,
  whole = false,
): Picture {
  // The lightness of the samples carries its weight already.
  const table = workspace.floats(
    samples.flatMap((c) => {
      const [l, a, b] = oklab(c);
      return [l * lightness, a, b, 0];
    }),
  );
  const out = onPixels(workspace, 'colourKey', planeLike(workspace, from), {
    from: from.at,
    samples: table,
    count: samples.length,
    near,
    soft,
    lightness,
    whole: whole ? 1 : 0,
  });
  workspace.drop(table);
  return out;
}

export type Vector = readonly [number, number, number];
/** In scene units; what lies behind a plane is on the side that its normal, of length 1, points away from. */
export type Solid =
  | { kind: 'sphere'; radius: number }
  | { kind: 'box'; half: Vector }
  | { kind: 'plane'; normal: Vector };

/** 1 where a position lies in a solid about `centre`, falling to 0 (smoothstep) over `soft` scene units beyond it. */
export function positionKey(
  workspace: Workspace,
  positions: Picture,
  centre: Vector,
  solid: Solid,
  soft: number,
): Picture {
  const sizes =
    solid.kind === 'sphere' ? [solid.radius, 0, 0] : solid.kind === 'box' ? solid.half : solid.normal;
  const options = workspace.floats([...centre, ...sizes]);
  const kind = ['sphere', 'box', 'plane'].indexOf(solid.kind);
  const args = { from: positions.at, kind, options, soft };
  const out = onPixels(workspace, 'positionKey', planeLike(workspace, positions), args);
  workspace.drop(options);
  return out;
}

export const facingMeasures = {
  facing: 'Facing ratio, 1 − |N·V|',
  schlick: 'Fresnel by Schlick',
  exact: 'Fresnel of a dielectric, exact',
} as const;
export type Facing = {
  measure: keyof typeof facingMeasures;
  /** Index of refraction, above 1. */
  index: number;
  black: number;
  gamma: number;
  invert: boolean;
  /** The camera's position for world positions, or the horizontal angle of view in degrees for normals in camera space. */
  view: { camera: readonly [number, number, number]; positions: Picture } | { angle: number };
};

const tan = (degrees: number) => sinTurns(degrees / 360) / cosTurns(degrees / 360);

/**
 * A matte by how far a surface turns from the camera: 1 − |N·V|; Schlick 1994, *An Inexpensive BRDF Model for Physically-based
 * Rendering*, f0 + (1 − f0)(1 − c)⁵; or the exact mean of both polarisations of Fresnel's equations. Then black point and gamma. 0 where
 * there is no normal.
 */
export function facingKey(workspace: Workspace, normals: Picture, o: Facing): Picture {
  const out = planeLike(workspace, normals);
  const frame = frameOf(workspace, normals);
  const half = 'angle' in o.view ? Math.fround(tan(o.view.angle / 2)) : 0;
  const view = workspace.floats(
    'angle' in o.view
      ? [half, (half * frame.height) / frame.width, frame.x, frame.y, frame.width, frame.height]
      : o.view.camera,
  );
  workspace.runtime.run('facingKey', normals.height, rowPiece, {
    out: out.at,
    normals: normals.at,
    positions: 'positions' in o.view ? o.view.positions.at : 0,
    view,
    width: normals.width,
    type: Object.keys(facingMeasures).indexOf(o.measure),
    index: o.index,
    black: o.black,
    gamma: o.gamma,
    invert: o.invert ? 1 : 0,
  });
  workspace.drop(view);
  return out;
}
