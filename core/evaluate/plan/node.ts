import type { Finish, Head, IdsHead, PassHead, ShapesHead } from '../../finish/finish';
import type { MatteFrom } from '../../kernels/point';
import type { StackedLayer } from '../../kernels/stack';
import { murmur3 } from '../../math/murmur3';
import { drafted, grown, type Region } from '../../picture/region';
import { draftSize } from '../../picture/scale';
import type { StepSpec, Values } from '../../steps/shared/define';

/** A place on a strand: after a step, after its head, or at its end. */
export type StrandPoint = { strand: string; after: string };

/** `region`, of the full-size frame, is the part that is wanted; all of it if there is none. */
export type Request = { finish: Finish; point: StrandPoint; frame: number; scale: number; region?: Region };

export type PlainHead = Extract<Head, { type: 'colour' | 'gradient' }>;

type Gains = readonly [number, number, number];

/** One thing to compute. `key` is made of everything that the result depends on. */
export type Node = { key: string; strand: string } & (
  | { type: 'head'; head: PassHead; frame: number }
  | { type: 'stack'; layers: ({ input: string } & Omit<StackedLayer, 'picture'>)[] }
  | {
      type: 'mix';
      passes: { input: string; gains: Gains; within?: string }[];
      beauty?: string;
      residual: boolean;
    }
  /** A colour or a gradient, as large as its input. */
  | { type: 'plain'; input: string; head: PlainHead }
  /** Chosen objects of an id pass; `edges` is a picture whose alpha softens them. */
  | { type: 'ids'; inputs: string[]; edges?: string; head: IdsHead; frame: number }
  /** Drawn shapes, as large as their input. */
  | { type: 'shapes'; input: string; head: ShapesHead; scale: number }
  | { type: 'draft'; input: string; scale: number; data: boolean; pass?: { head: PassHead; frame: number } }
  /** A part of the input, which is itself the part `of` the frame, or all of it. */
  | { type: 'cut'; input: string; region: Region; of?: Region }
  | { type: 'matte'; input: string; from: MatteFrom }
  /** One less the matte. */
  | { type: 'complement'; input: string }
  /** A matte as a picture: white under its alpha. */
  | { type: 'white'; input: string }
  | {
      type: 'step';
      stepId: string;
      spec: StepSpec;
      values: Values;
      input: string;
      slots: Record<string, string>;
      /** The same place on other frames. */
      neighbours: string[];
      region?: Region;
      /** For a step that goes by it. */
      frame?: number;
      /** The frame whose file holds the camera position, if the step needs it. */
      camera?: { media: string; frame: number };
    }
);

/** Nodes in dependency order: each comes after its inputs. The last one is the result. */
export type Plan = { nodes: Node[]; key: string };

/** The part of the draft that a request for a part gives: that part on the grid on which parts are computed. */
export const regionGiven = ({ region, scale }: Pick<Request, 'region' | 'scale'>): Region | undefined =>
  region && grown(drafted(region, draftSize(region.of.width, region.of.height, scale)), 0);

/** 64 bits of a hash: keys of different content meet once in about 2^32 results, far past what a cache holds. */
export const contentKey = (...parts: unknown[]): string => {
  const text = JSON.stringify(parts);
  return `${murmur3(text).toString(36)}-${murmur3(text, 0x9747b28c).toString(36)}`;
};
