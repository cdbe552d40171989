import type { Finish, Strand, Tap } from '../../finish/finish';
import type { Kind } from '../../picture/kind';
import type { Region } from '../../picture/region';
import type { Node, StrandPoint } from './node';

/** A place on a frame, and the part of it that is wanted, in pixels of the draft. */
export type At = { frame: number; region?: Region };

/** What planning one kind of thing needs of the rest. Everything that is planned is named by the key of its node. */
export type Planner = {
  finish: Finish;
  scale: number;
  /** Tells one content of a media frame from another. */
  identity(media: string, frame: number): string;
  /** Takes a node into the plan, unless it is there already. */
  add(node: Node): string;
  /** What stands at a point. */
  point(point: StrandPoint, on: At): string;
  /** What stands after the first `count` steps of a strand. */
  after(strand: Strand, count: number, on: At): string;
  /** What a link brings, as the kind that is asked for. */
  link(tap: Tap, kind: Kind, on: At): string;
  /** True where a link leads to nothing: to a slot of a recipe that nobody has filled. */
  isEmpty(tap: Pick<Tap, 'strand'>): boolean;
};
