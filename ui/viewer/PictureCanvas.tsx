import { useEffect, useRef } from 'react';
import type { Shown } from '@/browser/engine/answers';
import type { PlayState } from '@/browser/play/player';
import { usePlay, usePlayer } from '@/browser/play/use-player';
import { useShot } from '@/browser/session/store';
import { type Painting, useMirror } from '@/browser/workspace/mirror';
import type { Size } from '@/core/picture/region';
import { useCommand } from '../keys/use-command';
import { t } from '../words/words';
import { DrawTool } from './DrawTool';
import { GuideRings } from './GuideRings';
import { Handles } from './Handles';
import { paint } from './paint';
import { RegionTool } from './RegionTool';
import { ShapeEditor } from './ShapeEditor';
import { usePictureZoom } from './use-picture-zoom';
import { beside, useReferenceImage } from './use-reference-image';
import { WipeLine } from './WipeLine';

export type Pointed = { x: number; y: number };
type Props = {
  shown: Shown | undefined;
  /** Size of the full frame; a draft is drawn as large. */
  full: Size;
  onPoint(at: Pointed | null): void;
  onZoom(zoom: number): void;
  /** A click that is no drag, in pixels of the full frame. */
  onPick(at: Pointed, shift: boolean): void;
  /** True if the shown picture is not the requested one. */
  dimmed?: boolean;
};

/** The picture at any zoom about the cursor; pixels stay sharp squares when zoomed in. */
export function PictureCanvas({ shown, full, onPoint, onZoom, onPick, dimmed }: Props) {
  const player = usePlayer();
  const mirror = useMirror();
  const status = usePlay((s) => s.status);
  const frame = useShot((s) => s.frame);
  const compare = useShot((s) => s.compare);
  const flipped = useShot((s) => s.flipped);
  const tool = useShot((s) => s.tool);
  const region = useShot((s) => s.region);
  const shapesOn = useShot((s) =>
    s.finish.strands.find((x) => x.id === s.selected)?.head.type === 'shapes' ? s.selected : undefined,
  );
  const canvas = useRef<HTMLCanvasElement>(null);
  const bitmap = useRef<HTMLCanvasElement>(undefined);
  const second = useRef<HTMLCanvasElement>(undefined);
  const pressed = useRef<{ x: number; y: number }>(undefined);

  const reference = useReferenceImage(compare.with);
  const { box, view, fitIn, fullSize } = usePictureZoom(canvas, full);
  useCommand('fit', fitIn);
  useCommand('full-size', fullSize);
  useEffect(() => onZoom(view.k), [view.k, onZoom]);

  useEffect(() => {
    if (!shown) return;
    const fill = (into: { current: HTMLCanvasElement | undefined }, bytes: Shown['pixels']) => {
      into.current ??= document.createElement('canvas');
      into.current.width = shown.width;
      into.current.height = shown.height;
      into.current.getContext('2d')!.putImageData(new ImageData(bytes, shown.width, shown.height), 0, 0);
    };
    fill(bitmap, shown.pixels);
    if (shown.other) fill(second, shown.other);
  }, [shown]);

  useEffect(() => {
    const node = canvas.current!;
    const g = node.getContext('2d')!;
    const how = { compare, flipped, region, view, box, full, dense: window.devicePixelRatio };
    const put = (frame: number, given: Painting, moving: boolean) => {
      const isBeside = reference !== undefined && compare.mode !== 'off';
      const painting = isBeside ? { ...given, other: beside(reference, given, full) } : given;
      paint(g, painting, { ...how, moving });
      mirror?.show({ painting, frame, compare, flipped, region, full, moving });
      node.dataset.frame = String(frame);
      node.dataset.scale = String(painting.scale);
    };
    const still = () => {
      // A frame that is ready stands there until its full picture comes.
      const ready = shown?.frame === frame ? undefined : player.pictureOf(frame);
      if (ready) return put(frame, { ...ready, picture: ready.bitmap, other: ready.second }, false);
      if (!bitmap.current || !shown) return g.clearRect(0, 0, node.width, node.height);
      const other = shown.other && second.current;
      put(shown.frame, { ...shown, picture: bitmap.current, other }, false);
    };
    const played = ({ picture }: PlayState, before?: PlayState) => {
      if (picture?.bitmap.width && picture !== before?.picture)
        put(picture.frame, { ...picture, picture: picture.bitmap, other: picture.second }, true);
    };
    const now = player.state.getState();
    if (now.picture) played(now);
    else if (status !== 'playing' || !node.dataset.frame) still();
    return player.state.subscribe(played);
  }, [shown, frame, status, box, view, full, compare, flipped, region, player, mirror, reference]);

  const toPixel = (e: { clientX: number; clientY: number; currentTarget: Element }): Pointed => {
    const { left, top } = e.currentTarget.getBoundingClientRect();
    return {
      x: Math.floor((e.clientX - left - view.x) / view.k),
      y: Math.floor((e.clientY - top - view.y) / view.k),
    };
  };
  return (
    // What lies over the picture, such as shapes, does not hide what is under the pointer.
    <div
      className="absolute inset-0"
      onPointerMove={(e) => onPoint(toPixel(e))}
      onPointerLeave={() => onPoint(null)}
    >
      <canvas
        ref={canvas}
        data-testid="viewer"
        data-dimmed={dimmed}
        className={`absolute inset-0 h-full w-full cursor-crosshair touch-none select-none ${dimmed ? 'opacity-25' : ''}`}
        role="img"
        aria-label={t`The picture`}
        onPointerDown={(e) => {
          pressed.current = { x: e.clientX, y: e.clientY };
        }}
        onClick={(e) => {
          const from = pressed.current;
          if (!from || Math.hypot(e.clientX - from.x, e.clientY - from.y) > 3) return;
          const at = toPixel(e);
          if (at.x >= 0 && at.y >= 0 && at.x < full.width && at.y < full.height) onPick(at, e.shiftKey);
        }}
        onDoubleClick={fitIn}
      />
      <Handles view={view} full={full} />
      <GuideRings view={view} full={full} />
      {shapesOn && <ShapeEditor view={view} strandId={shapesOn} />}
      {tool?.type === 'draw' && (
        <DrawTool key={tool.with} view={view} type={tool.with} strand={tool.strand} />
      )}
      <RegionTool view={view} full={full} />
      {compare.mode === 'wipe' && (shown?.other || reference) && !flipped && (
        <WipeLine view={view} full={full} box={box} />
      )}
    </div>
  );
}
