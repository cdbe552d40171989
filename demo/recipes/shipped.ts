import { newFinish, renameStep } from '../../core/finish/edits';
import { mainStrand } from '../../core/finish/finish';
import { slotsOf } from '../../core/finish/uses';
import type { PassKind } from '../../core/formats/pass-kinds';
import { addDrive, addFront, changeFrontWords } from '../../core/recipes/front-edits';
import { makeRecipe } from '../../core/recipes/make';
import { type Recipe, recipeOf } from '../../core/recipes/recipe';
import type { Values } from '../../core/steps/shared/define';
import { building } from '../building';

/** The recipes that come with the program, each built as somebody at the board would build it. */

/** A control: what it is called, and the values that it drives, the first of which gives it its default. */
type Control = {
  name: string;
  description?: string;
  drives: readonly (readonly [step: string, value: string])[];
  /** What its slider spans, where that is not what the value's own does. */
  soft?: readonly [number, number];
};

type Made = {
  id: string;
  name: string;
  description: string;
  tags: string[];
  build(by: ReturnType<typeof recipeBuilding>): void;
  front: readonly Control[];
  /** What is meant for each slot, by its name. */
  slots?: Readonly<Record<string, string>>;
};

/** How wide the pictures are that lengths are meant for. */
const madeFor = 960;

/** As `building`, with heads of no shot: each becomes a slot. */
function recipeBuilding() {
  const by = building(newFinish('recipe', 'Recipe', { type: 'pass', media: 'any', pass: '' }));
  return Object.assign(by, {
    /** A strand that becomes a slot for a pass of a kind. */
    pass: (name: string, kind: PassKind) =>
      by.strand(
        name,
        { type: 'pass', media: 'any', pass: kind },
        kind === 'picture' || kind === 'emission' ? 'picture' : 'data',
      ),
    /** A strand that becomes a slot for a matte. */
    matte: (name: string) =>
      by.strand(
        name,
        { type: 'ids', media: 'any', pass: 'id', idFormat: 'ranked', ranks: 1, objects: [] },
        'matte',
      ),
    main: (type: string, id: string, name: string, values: Values) => {
      by.step('main', type, id, values);
      by.edit((d) => renameStep(d, id, name));
    },
  });
}

/** A recipe from how it is built. */
export function shipped({ id, name, description, tags, build, front, slots = {} }: Made): Recipe {
  const by = recipeBuilding();
  build(by);
  const steps = mainStrand(by.doc).steps.map((s) => s.id);
  const made = makeRecipe(by.doc, 'main', steps, name, (_, pass) =>
    pass === '' ? undefined : (pass as PassKind),
  );
  by.edit(() => made.edit);
  front.forEach(({ name: called, description: words, drives: [[step, value], ...others], soft }) => {
    by.edit((d) => addFront(d, made.id, step, value, called));
    const control = by.doc.strands
      .flatMap((s) => s.steps)
      .find((s) => s.id === made.id)!
      .front!.at(-1)!.id;
    for (const [step, value] of others) by.edit((d) => addDrive(d, made.id, control, step, value));
    by.edit((d) =>
      changeFrontWords(d, made.id, control, {
        ...(words === undefined ? {} : { description: words }),
        ...(soft ? { soft } : {}),
      }),
    );
  });
  const doc = structuredClone(by.doc);
  for (const { strand, head } of slotsOf(doc, made.id)) {
    strand.name = strand.name.replace(/ \d+$/, '');
    const words = slots[strand.name];
    if (words) head.description = words;
    // What a matte or a picture is made of is the shot's own affair.
    if (head.pass === 'picture' || head.pass === 'id') delete head.pass;
  }
  return recipeOf(doc, made.id, {
    id,
    edition: 1,
    name,
    description,
    tags,
    licence: 'Free to use and change.',
    width: madeFor,
  });
}
