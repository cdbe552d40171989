import { exp } from '../math/elementary';
import type { Rgb } from '../math/rgb';
import type { Picture } from '../picture/picture';
import { recursiveCoefficients } from './gaussian';
import { alongAngle, parallels } from './lines';
import type { Workspace } from './workspace';

const rowPiece = 16;
const streakPiece = 160;

/**
 * An exponential to one side: its light within `length` pixels is 95 %; in red, green and blue. `gain` is its whole light, of which the
 * share `taper` lies in an exponential of a fifth of its length.
 */
export type Tail = { length: Rgb; gain: number; taper?: number };

/** 95 % of an exponential lie within three of its lengths: e⁻³ = 0.0498. */
const decayOf = (length: number) => (length > 0 ? exp(-3 / length) : 0);

const tail = ({ length, gain, taper = 0 }: Tail, step: number): number[] => {
  const part = (times: number, share: number) => {
    // Along the longer axis a pixel is 1/step pixels of the line.
    const decays = length.map((l) => decayOf(l * times * step));
    return [...decays, 0, ...decays.map((d) => (1 - d) * share), 0];
  };
  return [...part(1, gain * (1 - taper)), ...part(0.2, gain * taper)];
};

/** A line's angle (degrees, counter-clockwise as seen), what goes along it, and what against it. */
export type Streak = { angle: number; forth: Tail; back: Tail };

/** The sum of the light of `from` drawn out along each streak. */
export function streaks(workspace: Workspace, from: Picture, list: readonly Streak[]): Picture {
  const { width, height } = from;
  const out = workspace.blank(width, height);
  const linesOf = (s: Streak) => parallels(s.angle, width, height);
  const steep = list.filter((s) => linesOf(s).swap);
  const flat = list.filter((s) => !linesOf(s).swap);
  /** Onto pictures down which the lines run. */
  const draw = (onto: Picture, source: Picture, which: readonly Streak[]) => {
    for (const s of which) {
      workspace.runtime.checkpoint();
      const { major, slope, least, lines } = linesOf(s);
      const tails = major > 0 ? [s.forth, s.back] : [s.back, s.forth];
      const ways = (tails[0].gain > 0 ? 1 : 0) + (tails[1].gain > 0 ? 2 : 0);
      const params = workspace.floats(tails.flatMap((t) => tail(t, Math.abs(major))));
      workspace.runtime.run('streaks', lines, streakPiece, {
        out: onto.at,
        from: source.at,
        width: onto.width,
        height: onto.height,
        slope,
        least,
        values: params,
        ways,
      });
      workspace.drop(params);
    }
  };
  draw(out, from, steep);
  if (flat.length === 0) return out;
  // Lines that run across are drawn on a picture lying on its side: so memory is read in its order.
  const turned = workspace.picture(height, width);
  workspace.runtime.run('transpose', width, rowPiece, {
    out: turned.at,
    from: from.at,
    width: height,
    height: width,
    adds: 0,
  });
  const onto = workspace.blank(height, width);
  draw(onto, turned, flat);
  workspace.runtime.run('transpose', height, rowPiece, {
    out: out.at,
    from: onto.at,
    width,
    height,
    adds: 1,
  });
  workspace.drop(turned);
  workspace.drop(onto);
  return out;
}

/** The light of `from` blurred by a Gaussian of `sigma` pixels (2 or more) along an angle alone. */
export function blurAlong(workspace: Workspace, from: Picture, angle: number, sigma: number): Picture {
  const out = workspace.blank(from.width, from.height);
  alongAngle(workspace, out, from, angle, { oneWay: false, density: 1 }, (step) => ({
    type: 'gaussian',
    values: [...recursiveCoefficients(sigma * step)],
  }));
  return out;
}
