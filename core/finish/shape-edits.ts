import type { PathPoint } from '../math/path';
import { assignPart, type Edit, edit } from './edit';
import { type Finish, headOf } from './finish';
import type { Shape, ShapesHead, ShapeTransform } from './heads';
import { pathAt, pivotOf, transformAt } from './shapes';

/** Edits of the drawn shapes at a strand's head. */

export const shapesOf = (doc: Finish, strandId: string): readonly Shape[] =>
  headOf(doc, strandId, 'shapes')?.shapes ?? [];

const shapesEdit = (strandId: string, label: string, change: (head: ShapesHead) => void): Edit =>
  edit(label, (draft) => {
    const head = headOf(draft, strandId, 'shapes');
    if (head) change(head);
  });

const nameOf = (doc: Finish, strandId: string, shapeId: string) =>
  shapesOf(doc, strandId).find((s) => s.id === shapeId)?.name ?? 'shape';

/** An id that no shape of the strand has. */
export function freeShapeId(doc: Finish, strandId: string, base = 'shape'): string {
  const taken = new Set(shapesOf(doc, strandId).map((s) => s.id));
  let n = taken.size + 1;
  while (taken.has(`${base}-${n}`)) n++;
  return `${base}-${n}`;
}

/** Points as they are kept: a tenth of a pixel is finer than any hand. */
const kept = (points: readonly PathPoint[]) => {
  const round = (v: number) => Math.round(v * 100) / 100;
  const pair = (p?: readonly [number, number]) => p && ([round(p[0]), round(p[1])] as const);
  return points.map((p) => ({
    x: round(p.x),
    y: round(p.y),
    ...(p.in ? { in: pair(p.in) } : {}),
    ...(p.out ? { out: pair(p.out) } : {}),
    ...(p.feather ? { feather: round(p.feather) } : {}),
  }));
};

/** A shape that begins as a path on a frame. */
export const newShape = (
  id: string,
  name: string,
  frame: number,
  points: readonly PathPoint[],
  filled: Partial<Pick<Shape, 'operation' | 'fillRule'>> = {},
): Shape => ({
  id,
  name,
  operation: 'add',
  ...filled,
  opacity: 1,
  feather: 0,
  paths: [{ frame, points: kept(points) }],
  transforms: [],
});

export const addShapes = (strandId: string, shapes: readonly Shape[]): Edit =>
  shapesEdit(
    strandId,
    shapes.length === 1 ? `draw ${shapes[0].name}` : `add ${shapes.length} shapes`,
    (head) => {
      head.shapes.push(...shapes.map((s) => structuredClone(s)));
    },
  );

export const removeShape = (doc: Finish, strandId: string, shapeId: string): Edit =>
  shapesEdit(strandId, `remove ${nameOf(doc, strandId, shapeId)}`, (head) => {
    head.shapes = head.shapes.filter((s) => s.id !== shapeId);
  });

const partLabels = {
  name: 'name',
  operation: 'operation',
  fillRule: 'fill rule',
  opacity: 'opacity',
  feather: 'softness',
  hidden: 'visibility',
} as const;
const partNames = (part: object) =>
  Object.keys(part)
    .map((key) => partLabels[key as keyof typeof partLabels])
    .join(' and ');

/** Changes what a shape is called, what it fills, how it counts, its opacity and softness. */
export const changeShape = (
  doc: Finish,
  strandId: string,
  shapeId: string,
  part: Partial<Pick<Shape, 'name' | 'operation' | 'fillRule' | 'opacity' | 'feather' | 'hidden'>>,
): Edit =>
  shapesEdit(strandId, `set ${partNames(part)} of ${nameOf(doc, strandId, shapeId)}`, (head) => {
    const shape = head.shapes.find((s) => s.id === shapeId)!;
    assignPart(shape, part);
  });

export const moveShape = (doc: Finish, strandId: string, shapeId: string, by: number): Edit =>
  shapesEdit(strandId, `move ${nameOf(doc, strandId, shapeId)} ${by < 0 ? 'up' : 'down'}`, (head) => {
    const at = head.shapes.findIndex((s) => s.id === shapeId);
    const [moved] = head.shapes.splice(at, 1);
    head.shapes.splice(Math.max(0, Math.min(head.shapes.length, at + by)), 0, moved);
  });

const keyed = <K extends { frame: number }>(keys: K[], key: K): K[] =>
  [...keys.filter((k) => k.frame !== key.frame), key].sort((a, b) => a.frame - b.frame);

/**
 * The path of a shape on a frame: of all frames, unless the shape is animated or `key` makes it so; then the frame gets a key of its
 * own.
 */
export const setPath = (
  doc: Finish,
  strandId: string,
  shapeId: string,
  frame: number,
  points: readonly PathPoint[],
  key = false,
): Edit =>
  shapesEdit(strandId, `reshape ${nameOf(doc, strandId, shapeId)}`, (head) => {
    const shape = head.shapes.find((s) => s.id === shapeId)!;
    if (key) shape.animated = true;
    const at = shape.animated ? frame : shape.paths[0].frame;
    shape.paths = keyed(shape.paths, { frame: at, points: kept(points) });
  });

/** Moves, turns and scales a shape on a frame, from where it is there. */
export const transformShape = (
  doc: Finish,
  strandId: string,
  shapeId: string,
  frame: number,
  part: Partial<Omit<ShapeTransform, 'frame'>>,
): Edit =>
  shapesEdit(strandId, `move ${nameOf(doc, strandId, shapeId)}`, (head) => {
    const shape = head.shapes.find((s) => s.id === shapeId)!;
    shape.pivot ??= [...pivotOf(shape)];
    const at = shape.animated ? frame : (shape.transforms[0]?.frame ?? frame);
    shape.transforms = keyed(shape.transforms, { ...transformAt(shape, frame), ...part, frame: at });
  });

/** A key for path and place on a frame, as they are there: what is changed before and after then moves towards it. */
export const keyShape = (doc: Finish, strandId: string, shapeId: string, frame: number): Edit =>
  shapesEdit(strandId, `key ${nameOf(doc, strandId, shapeId)}`, (head) => {
    const shape = head.shapes.find((s) => s.id === shapeId)!;
    // Until now it held on all frames, wherever its one key stood.
    if (!shape.animated) {
      shape.paths = [{ frame, points: shape.paths[0].points }];
      shape.transforms = shape.transforms.map((k) => ({ ...k, frame }));
    }
    shape.animated = true;
    shape.paths = keyed(shape.paths, { frame, points: kept(pathAt(shape, frame)) });
    if (shape.transforms.length > 0)
      shape.transforms = keyed(shape.transforms, { frame, ...transformAt(shape, frame) });
  });

export const unkeyShape = (doc: Finish, strandId: string, shapeId: string, frame: number): Edit =>
  shapesEdit(strandId, `take a key from ${nameOf(doc, strandId, shapeId)}`, (head) => {
    const shape = head.shapes.find((s) => s.id === shapeId)!;
    if (shape.paths.length > 1) shape.paths = shape.paths.filter((k) => k.frame !== frame);
    if (shape.transforms.length > 1) shape.transforms = shape.transforms.filter((k) => k.frame !== frame);
    if (shape.paths.length === 1 && shape.transforms.length <= 1) delete shape.animated;
  });

export const isKeyed = (shape: Shape, frame: number) =>
  shape.animated === true && [...shape.paths, ...shape.transforms].some((k) => k.frame === frame);

/** Points moved by some pixels. */
export const shifted = (points: readonly PathPoint[], dx: number, dy: number): PathPoint[] =>
  points.map((p) => ({ ...p, x: p.x + dx, y: p.y + dy }));
