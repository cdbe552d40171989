import type { Edit } from '../finish/edit';
import type { Finish } from '../finish/finish';
import type { Pass } from '../formats/passes';

/** What is known of a frame beside the document. */
export type Facts = {
  /** Passes of the shot's media, by the media's name. */
  passes: Record<string, readonly Pass[]>;
  /** Frames that are there, by the media's name. */
  frames: Record<string, readonly number[]>;
  frame: number;
  /** Pixels that are not finite after a place, by the id of its step or strand, as a share. */
  broken: Record<string, number>;
  /** Slots whose matte is empty on this frame: `step/slot`. */
  emptyMattes: readonly string[];
  /** Those of them that read luminance where alpha has something. */
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
  /** What to do about it. */
  remedy: string;
  fix?: Edit;
};

/** A rule is a file: it looks at a finish and says what it notices. */
export type Rule = (finish: Finish, facts: Facts) => Finding[];
