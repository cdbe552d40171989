import type { Edit } from '../finish/edit';
import type { Finish } from '../finish/finish';
import type { Pass } from '../formats/passes';

/** Facts of a frame besides the document. */
export type Facts = {
  /** Passes of the shot's media, by the media's name. */
  passes: Record<string, readonly Pass[]>;
  /** Frames that are there, by the media's name. */
  frames: Record<string, readonly number[]>;
  frame: number;
  /** Pixels that are not finite after a place, by the id of its step or strand, as a share. */
  broken: Record<string, number>;
  /** Pixels with a negative colour in the frame at a strand's head, as a share, by the strand. */
  negative: Record<string, number>;
  /** Slots whose matte is empty on this frame: `step/slot`. */
  emptyMattes: readonly string[];
  /** Mattes among them that read luminance although only alpha has values. */
  byAlpha: readonly string[];
  /** Share of pixels of the finished picture whose colour exceeds their alpha. */
  beyondAlpha: number;
};

export type Finding = {
  /** One of its own for the same thing in the same place, so that it can be dismissed. */
  key: string;
  /** The step or strand that it is about. */
  at: string;
  title: string;
  /** The remedy. */
  remedy: string;
  fix?: Edit;
  /** Another way out. */
  otherFix?: Edit;
  /** The strand whose objects or shapes are to be chosen on the picture, and what the button says. */
  choose?: { strand: string; label: string };
};

/** One rule a file: it inspects a finish and returns its findings. */
export type Rule = (finish: Finish, facts: Facts) => Finding[];
