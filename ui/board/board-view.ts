import { select } from 'd3-selection';
import { type D3ZoomEvent, type ZoomTransform, zoom, zoomIdentity } from 'd3-zoom';
import { createStore } from 'zustand';

/** How the board is seen: moved and scaled inside its panel. */

export type Seen = { x: number; y: number; k: number; width: number; height: number };
export type Area = { x: number; y: number; width: number; height: number };

const [smallest, largest] = [0.2, 1.5];
/** Below this scale a card shows its picture and its name alone, in larger letters, and nothing on it is drawn that a hand could not hit. */
export const detailFrom = 0.62;
const margin = 10;

/** Presses on what is not the ground belong to it. */
const isGround = (e: Event) =>
  e.target instanceof Element && !e.target.closest('button, select, input, [data-own-drag]');

/**
 * Moves and scales `content` inside `panel`: drags and wheel pan, Ctrl with the wheel and two fingers zoom about themselves. The board does not leave
 * its panel, and begins at the panel's left and top edge if it is smaller.
 */
export function createBoardView() {
  const seen = createStore<Seen>(() => ({ x: 0, y: 0, k: 1, width: 0, height: 0 }));
  let size = { width: 0, height: 0 };
  let content: HTMLElement | undefined;
  let panel: HTMLElement | undefined;
  let calm: ReturnType<typeof setTimeout> | undefined;
  const clamp = (at: number, own: number, room: number) => Math.min(0, Math.max(Math.min(0, room - own), at));
  const constrained = ({ k, x, y }: ZoomTransform) => {
    const { width, height } = seen.getState();
    return zoomIdentity
      .translate(clamp(x, size.width * k, width), clamp(y, size.height * k, height))
      .scale(k);
  };
  const behaviour = zoom<HTMLElement, unknown>()
    .scaleExtent([smallest, largest])
    .filter((e) => (e.type === 'wheel' ? e.ctrlKey || e.metaKey : !e.button && isGround(e)))
    .clickDistance(4)
    .constrain(constrained)
    .on('zoom', ({ transform: { x, y, k } }: D3ZoomEvent<HTMLElement, unknown>) => {
      if (content) {
        // While it moves it is one layer; letters are drawn sharp when it stands still.
        content.style.willChange = 'transform';
        content.style.setProperty('--k', String(k));
        content.style.transform = `translate(${x}px,${y}px) scale(${k})`;
        clearTimeout(calm);
        calm = setTimeout(() => content?.style.removeProperty('will-change'), 160);
      }
      seen.setState({ x, y, k });
    });
  const to = (transform: ZoomTransform) => {
    if (panel) select(panel).call(behaviour.transform, constrained(transform));
  };
  const wheel = (e: WheelEvent) => {
    if (!panel || e.ctrlKey || e.metaKey) return;
    e.preventDefault();
    const { k } = seen.getState();
    const [dx, dy] = e.shiftKey && !e.deltaX ? [e.deltaY, 0] : [e.deltaX, e.deltaY];
    select(panel).call(behaviour.translateBy, -dx / k, -dy / k);
  };
  return {
    seen,
    /** Begins with the elements of the board; gives what ends it. */
    attach(inside: HTMLElement, moved: HTMLElement) {
      [panel, content] = [inside, moved];
      const measure = () => {
        seen.setState({ width: inside.clientWidth, height: inside.clientHeight });
        const { x, y, k } = seen.getState();
        to(zoomIdentity.translate(x, y).scale(k));
      };
      const observer = new ResizeObserver(measure);
      observer.observe(inside);
      select(inside).call(behaviour).on('dblclick.zoom', null);
      inside.addEventListener('wheel', wheel, { passive: false });
      return () => {
        observer.disconnect();
        clearTimeout(calm);
        inside.removeEventListener('wheel', wheel);
        select(inside).on('.zoom', null);
        [panel, content] = [undefined, undefined];
      };
    },
    /** The board is so large now. */
    resize(width: number, height: number) {
      if (size.width === width && size.height === height) return;
      size = { width, height };
      const { x, y, k } = seen.getState();
      to(zoomIdentity.translate(x, y).scale(k));
    },
    /** All of the board at once, no larger than it is. */
    fit() {
      const { width, height } = seen.getState();
      to(zoomIdentity.scale(Math.max(smallest, Math.min(1, width / size.width, height / size.height))));
    },
    /** About the middle of the panel. */
    zoomBy(factor: number) {
      if (panel) select(panel).call(behaviour.scaleBy, factor);
    },
    fullSize() {
      if (panel) select(panel).call(behaviour.scaleTo, 1);
    },
    panBy(dx: number, dy: number) {
      if (panel) select(panel).call(behaviour.translateBy, dx, dy);
    },
    /** Moves as little as it must until an area of the board is seen; or puts it into the middle. */
    show(area: Area, middle = false) {
      const { x, y, k, width, height } = seen.getState();
      if (width === 0) return;
      const along = (at: number, from: number, length: number, room: number) => {
        const [low, high] = [from * k + at - margin, (from + length) * k + at + margin];
        if (middle) return room / 2 - (from + length / 2) * k;
        if (low < 0) return at - low;
        return high > room ? at - Math.min(high - room, low) : at;
      };
      to(
        zoomIdentity
          .translate(along(x, area.x, area.width, width), along(y, area.y, area.height, height))
          .scale(k),
      );
    },
  };
}

export type BoardView = ReturnType<typeof createBoardView>;
