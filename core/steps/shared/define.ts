import type { ColourOp } from '../../kernels/colour';
import type { Workspace } from '../../kernels/workspace';
import type { PathPoint } from '../../math/path';
import type { Rgb } from '../../math/rgb';
import type { Kind } from '../../picture/kind';
import type { Picture } from '../../picture/picture';
import type { StartFacts } from './start-facts';

/** The usual order of steps, as a real camera would add them. */
export const stages = ['prepare', 'isolate', 'surface', 'air', 'light', 'lens', 'finish'] as const;
export type Stage = (typeof stages)[number];

/** The four questions of a light step, and one of a step that moves things; each step uses those it needs. */
export const sections = {
  take: 'what shines?',
  place: 'where does it go?',
  spread: 'how does it travel?',
  change: 'how does it change?',
  keep: 'where may it land?',
  lay: 'how does it go back?',
} as const;
export type Section = keyof typeof sections;

/** `onlyIf` names a choice and what it must be for this to matter: else the interface leaves it out. */
type Described = {
  name: string;
  description: string;
  /** Other words by which it is found. */
  words?: readonly string[];
  section: Section;
  onlyIf?: readonly [string, ...string[]];
};

/**
 * A number with its unit and bounds. `soft` is what a slider spans; typing reaches `from` … `to`.
 * `px` are pixels of the full-size frame (scaled for drafts); `light` is scene-linear; `scene` are the scene's own units; `ratio` has no unit; `degrees` run counter-clockwise
 * as seen.
 * `zeroLabel` is the word shown for 0, where 0 means "none".
 */
export type NumberSpec = Described & {
  type: 'number';
  unit: 'px' | 'light' | 'ratio' | 'degrees' | 'scene';
  default: number;
  from: number;
  to: number;
  soft: readonly [number, number];
  zeroLabel?: string;
  /** Counts: has no parts. */
  whole?: true;
};
export type ChoiceSpec<K extends string = string> = Described & {
  type: 'choice';
  options: Readonly<Record<K, string>>;
  default: K;
};
export type ToggleSpec = Described & { type: 'toggle'; default: boolean };
/** Words; `longest` is how many letters fit. */
export type TextSpec = Described & { type: 'text'; default: string; longest: number };
export type ColourSpec = Described & { type: 'colour'; default: Rgb };
/** Several colours, at most `most`. */
export type ColoursSpec = Described & { type: 'colours'; default: readonly Rgb[]; most: number };
/** A table of numbers that rows are added to and taken from; `sets` are tables to start from. */
export type RowsSpec = Described & {
  type: 'rows';
  columns: Readonly<Record<string, NumberSpec>>;
  sets: Readonly<Record<string, { name: string; rows: readonly (readonly number[])[] }>>;
  default: readonly (readonly number[])[];
  most: number;
};
/** A closed path: of shapes alone, which are drawn on the picture. */
export type PathSpec = Described & { type: 'path'; default: readonly PathPoint[] };
export type ValueSpec =
  | NumberSpec
  | ChoiceSpec
  | ToggleSpec
  | TextSpec
  | ColourSpec
  | ColoursSpec
  | RowsSpec
  | PathSpec;
export type ValueSpecs = Readonly<Record<string, ValueSpec>>;

export type Value =
  | number
  | string
  | boolean
  | Rgb
  | readonly Rgb[]
  | readonly (readonly number[])[]
  | readonly PathPoint[];
export type Values = Record<string, Value>;

type ValueOf<S extends ValueSpec> = S extends NumberSpec
  ? number
  : S extends ToggleSpec
    ? boolean
    : S extends ColourSpec
      ? Rgb
      : S extends { type: 'choice'; options: infer O }
        ? keyof O & string
        : S extends TextSpec
          ? string
          : S extends ColoursSpec
            ? readonly Rgb[]
            : S extends RowsSpec
              ? readonly (readonly number[])[]
              : S extends PathSpec
                ? readonly PathPoint[]
                : never;
export type ValuesOf<S extends ValueSpecs> = { [K in keyof S]: ValueOf<S[K]> };

/**
 * `sometimes`: frames on which nothing is in it are as usual as others. `needed`: without it the step changes nothing. `invertedBy`: the value that takes its
 * complement; where there is none, the link itself says so.
 */
export type SlotSpec = Described & { kind: Kind; sometimes?: true; needed?: true; invertedBy?: string };
export type SlotSpecs = Readonly<Record<string, SlotSpec>>;

/**
 * Something to drag on the picture. A point lies as far from the picture's middle as its two values say, to the right and
 * upwards. An arm goes out from such a point, or from the middle, at an angle; its length may stand for a value: `perPixel` pixels for 1, or
 * pixels themselves.
 */
export type Handle = { name: string; onlyIf?: readonly [string, ...string[]] } & (
  | { type: 'point'; x: string; y: string; from?: readonly [string, string] }
  | {
      type: 'arm';
      at?: readonly (readonly [string, string])[];
      angle?: string;
      length?: string;
      perPixel?: number;
    }
);

/**
 * What the sheet shows above the fields of a section, to edit several values by one hand or to see what they do. The values that it `holds` have no field
 * beside it. `light`: the strengths of the light that comes in, with a threshold on them. `band`: the numbers that come in, with the band of a key on
 * them; of the channel that is named, or that a value names. `mist`: the depth, with the mist's density and stops over it. `place`: a click on the
 * picture gives three numbers. `curves`: curves of tone. `table`: the file of a lookup table. `cdl`: files of the ASC's colour decision lists.
 * `glare`: the law by which light spreads.
 */
export type Editor<K extends string = string> = { section: Section; holds?: readonly K[] } & (
  | { kind: 'light'; threshold: K; knee: K }
  | { kind: 'band'; channel?: string; channelOf?: K }
  | { kind: 'mist'; depth?: string }
  | { kind: 'place'; coordinates: readonly [K, K, K] }
  | { kind: 'table'; table: K }
  | { kind: 'curves' | 'cdl' | 'glare' }
);

export type StepSpec<V extends ValueSpecs = ValueSpecs, S extends SlotSpecs = SlotSpecs> = {
  id: string;
  name: string;
  stage: Stage;
  /** Purpose, in one line. */
  description: string;
  /** What people call it, or what they want to happen: words of photography, optics and plain speech by which it is found. */
  words?: readonly string[];
  /** Part of every content key: raise it when the result changes. */
  version: number;
  slots: S;
  values: V;
  /** The value shown on the step's card; what the step is for stands there if there is none. */
  summaryValue?: keyof V & string;
  /** Values that are seldom needed: the sheet shows them when one asks for more, or when they are not as they begin. */
  rare?: readonly (keyof V & string)[];
  /** Kinds that it accepts; pictures only if not set. On a strand of another kind it is inactive. */
  accepts?: readonly Kind[];
  /** Kind of the result, if different from the input. */
  produces?: Kind;
  /** In the sheet beside the fields of its values. */
  editors?: readonly Editor<keyof V & string>[];
  /** Values that a step which is added takes from the picture, in place of their defaults. */
  start?(facts: StartFacts): Values;
  /**
   * The slot that is linked to a pass of a kind as the step is added, where the shot has one, and the values that it begins with then. `through` is the
   * step that makes of the pass what the slot takes.
   */
  beginsWith?: { slot: keyof S & string; pass: 'depth' | 'motion'; values?: Values; through?: string };
  /** Handles on the picture. */
  handles?: readonly Handle[];
  /** True where the values `cameraX`, `cameraY` and `cameraZ` are to be those in the frame's file; `linked` are the slots that are linked. */
  camera?(values: ValuesOf<V>, linked: readonly string[]): boolean;
  /** Other frames that it looks at, from the one asked for. */
  frames?(values: ValuesOf<V>): number[];
  /** The slot that it looks at on those frames, where one is linked to it; else what comes to the step. */
  framesOf?: keyof S & string;
  /** Numbers that it gets besides: how much a value changes in a frame, by the name they get. */
  speeds?: Readonly<Record<string, keyof V & string>>;
  /** True where its result goes by the number of the frame too. */
  dependsOnFrame?(values: ValuesOf<V>): boolean;
  /** Its place among the steps of its stage, 5 if it is not said, and why it has it, in one line. */
  order?: { place: number; why: string };
  /** Stands anywhere in the order of a camera: its stage says only where it is listed. */
  anywhere?: true;
  /** Question of the section Take, if the step does not take light. */
  sourceQuestion?: string;
  /** What it does to each pixel by itself, where that is all it does: such steps one after the other are worked out as one. */
  program?(values: ValuesOf<V>): readonly ColourOp[];
  /** True where these values return the input bit for bit; the step is then not run. */
  neutral(values: ValuesOf<V>): boolean;
  /**
   * How far a pixel's light travels, in the pixels of the values given; Infinity where a part of the picture needs all of it.
   */
  reach(values: ValuesOf<V>): number;
  /**
   * The result is a picture of the workspace's; everything else taken there goes back by itself. `around` are the pictures of
   * the other frames, in the order of `frames`; `frame` is the frame's number, 0 for a step that does not move.
   */
  run(
    workspace: Workspace,
    picture: Picture,
    slots: { [K in keyof S]?: Picture },
    values: ValuesOf<V>,
    neighbours?: readonly Picture[],
    frame?: number,
  ): Picture;
};

/** Kinds that a step accepts. */
export const kindsOf = ({ accepts = ['picture'] }: Pick<StepSpec, 'accepts'>): readonly Kind[] => accepts;

/** Declares a step; interface, validation and documentation are derived from it. */
export function defineStep<const V extends ValueSpecs, const S extends SlotSpecs>(
  spec: StepSpec<V, S>,
): StepSpec {
  return spec as unknown as StepSpec;
}

/** Values of `specs` as they are before anybody touched them. */
export const defaultsOf = (specs: ValueSpecs): Values =>
  Object.fromEntries(Object.entries(specs).map(([key, spec]) => [key, spec.default]));

/** True where what is only for certain choices matters. */
export const isRelevant = (
  { onlyIf }: { onlyIf?: readonly [string, ...string[]] },
  values: Values,
): boolean => !onlyIf || onlyIf.slice(1).includes(String(values[onlyIf[0]]));
