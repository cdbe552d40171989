import type { ShotState } from '@/browser/session/store';
import type { Painting } from '@/browser/workspace/mirror';
import type { Size } from '@/core/picture/region';

type How = Pick<ShotState, 'compare' | 'flipped' | 'region'> & {
  /** Where the picture lies on the canvas, which has the size of `box` in units of the page. */
  view: { k: number; x: number; y: number };
  box: Size;
  /** Size of the full frame; a draft is drawn as large. */
  full: Size;
  dense: number;
  /** Pictures follow one another quickly: time counts more than the last of smoothness. */
  moving: boolean;
};

/** Longer than any viewer. */
const far = 20_000;

/** Paints the canvas anew. */
export function paint(g: CanvasRenderingContext2D, painting: Painting, how: How) {
  const { compare, flipped, region, view, box, full, dense, moving } = how;
  const { picture, other, scale } = painting;
  g.setTransform(1, 0, 0, 1, 0, 0);
  g.clearRect(0, 0, g.canvas.width, g.canvas.height);
  const draw = (image: CanvasImageSource, shift = 0) => {
    g.setTransform(dense * view.k, 0, 0, dense * view.k, dense * (view.x + shift), dense * view.y);
    g.imageSmoothingEnabled = view.k * dense < 2 || scale < 1;
    g.imageSmoothingQuality = moving ? 'low' : 'high';
    const { x, y, of } = painting.region ?? { x: 0, y: 0, of: painting };
    const [sx, sy] = [full.width / of.width, full.height / of.height];
    g.drawImage(image, x * sx, y * sy, painting.width * sx, painting.height * sy);
  };
  const clipped = (path: () => void, work: () => void) => {
    g.save();
    g.setTransform(dense, 0, 0, dense, 0, 0);
    g.beginPath();
    path();
    g.clip();
    work();
    g.restore();
  };
  const both = () => {
    if (!other || flipped) return draw(other && flipped ? other : picture);
    if (compare.mode === 'side') {
      const middle = box.width / 2;
      clipped(
        () => g.rect(0, 0, middle - 1, box.height),
        () => draw(picture, -middle / 2),
      );
      clipped(
        () => g.rect(middle + 1, 0, middle, box.height),
        () => draw(other, middle / 2),
      );
      return;
    }
    draw(picture);
    // The other lies to the right of the line as one looks along it.
    const turn = (compare.angle * Math.PI) / 180;
    const [dx, dy] = [Math.cos(turn) * far, -Math.sin(turn) * far];
    const [px, py] = [
      view.x + compare.at[0] * full.width * view.k,
      view.y + compare.at[1] * full.height * view.k,
    ];
    const half = () => {
      g.moveTo(px - dx, py - dy);
      g.lineTo(px + dx, py + dy);
      g.lineTo(px + dx - dy, py + dy + dx);
      g.lineTo(px - dx - dy, py - dy + dx);
      g.closePath();
    };
    clipped(half, () => draw(other));
  };
  if (!painting.region || !region) return both();
  // What was computed reaches a little further than the frame.
  clipped(
    () =>
      g.rect(
        view.x + region.x * view.k,
        view.y + region.y * view.k,
        region.width * view.k,
        region.height * view.k,
      ),
    both,
  );
}
