import type { PathPoint } from '../math/path';
import { shapeAddress } from './animated';
import { assignPart, type Edit, edit } from './edit';
import { type Finish, headOf } from './finish';
import type { Shape, ShapesHead, ShapeTransform } from './heads';

import { pivotOf } from './shapes';
import { changeValues } from './value-edits';

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

/** A shape that is a path on every frame. */
export const newShape = (
  id: string,
  name: string,
  points: readonly PathPoint[],
  filled: Partial<Pick<Shape, 'operation' | 'fillRule'>> = {},
): Shape => ({
  id,
  name,
  operation: 'add',
  ...filled,
  opacity: 1,
  feather: 0,
  path: kept(points),
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
  hidden: 'visibility',
} as const;
const partNames = (part: object) =>
  Object.keys(part)
    .map((key) => partLabels[key as keyof typeof partLabels])
    .join(' and ');

/** Changes what a shape is called, what it fills, and how it counts. */
export const changeShape = (
  doc: Finish,
  strandId: string,
  shapeId: string,
  part: Partial<Pick<Shape, 'name' | 'operation' | 'fillRule' | 'hidden'>>,
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

/** The path of a shape: of all frames, unless it has keys or is to get them. */
export const setPath = (
  doc: Finish,
  strandId: string,
  shapeId: string,
  frame: number,
  points: readonly PathPoint[],
  animates = false,
): Edit =>
  edit(`reshape ${nameOf(doc, strandId, shapeId)}`, (draft) =>
    changeValues(draft, shapeAddress(strandId, shapeId), { path: kept(points) }, frame, animates),
  );

/** Moves, turns and scales a shape on a frame, about the pivot that it has by then. */
export const transformShape = (
  doc: Finish,
  strandId: string,
  shapeId: string,
  frame: number,
  part: Partial<ShapeTransform>,
  animates = false,
): Edit =>
  edit(`move ${nameOf(doc, strandId, shapeId)}`, (draft) => {
    const shape = shapesOf(draft, strandId).find((s) => s.id === shapeId);
    if (shape) shape.pivot ??= [...pivotOf(shape)];
    changeValues(draft, shapeAddress(strandId, shapeId), part, frame, animates);
  });

/** Points moved by some pixels. */
export const shifted = (points: readonly PathPoint[], dx: number, dy: number): PathPoint[] =>
  points.map((p) => ({ ...p, x: p.x + dx, y: p.y + dy }));
