import * as v from 'valibot';
import { id, name, whole } from '../finish/basic-schema';
import { edit } from '../finish/edit';
import { newFinish } from '../finish/edits';
import { type Finish, FinishError, type Step } from '../finish/finish';
import { frontSchema, recipeSpec } from '../finish/front';
import { type Packed, packedMain, packedUse, unpack } from '../finish/packed';
import { finishFormat } from '../finish/schema';
import { openFinish, parseFinish } from '../finish/validation';
import { defaultsOf } from '../steps/shared/define';

/**
 * A recipe as it stands in the library and in files: a small finish whose main strand begins at the picture that comes to it, what stands on its front,
 * and what people read of it. Its format has the version of the finish format, and is upgraded with it.
 */

const text = (most: number, what: string) =>
  v.pipe(v.string(), v.maxLength(most, `${what} has at most ${most} letters`));

/** What people read of a recipe. */
export const recipeWords = {
  name,
  description: v.optional(text(2000, 'A description'), ''),
  tags: v.optional(
    v.pipe(
      v.array(v.pipe(v.string(), v.trim(), v.minLength(1), v.maxLength(40))),
      v.maxLength(20, 'A recipe has at most 20 tags'),
    ),
    [],
  ),
  /** Under which conditions others may use it, in one line. */
  licence: v.optional(text(200, 'The licence'), ''),
};

/** The largest picture of a recipe, in characters of base64: a small PNG. */
const longestPicture = 400_000;

export const recipeFrame = v.strictObject({
  format: v.literal('zafiro-recipe'),
  version: v.literal(finishFormat),
  id,
  /** Which of its versions this is, from 1. */
  edition: v.pipe(whole, v.minValue(1), v.maxValue(1_000_000)),
  ...recipeWords,
  /** How wide the pictures are that its lengths in pixels are meant for. */
  width: v.optional(v.pipe(whole, v.minValue(1), v.maxValue(65_536))),
  /** A PNG, in base64. */
  picture: v.optional(
    v.pipe(
      v.string(),
      v.maxLength(longestPicture, 'The picture of the recipe is too large'),
      v.regex(/^iVBORw0KGgo[A-Za-z0-9+/=]*$/, 'The picture of the recipe is no PNG in base64'),
    ),
  ),
  front: v.optional(frontSchema, []),
  inside: v.strictObject({
    main: v.literal(packedMain),
    strands: v.unknown(),
    guides: v.optional(v.unknown()),
  }),
});

export type RecipeWords = v.InferOutput<v.StrictObjectSchema<typeof recipeWords, undefined>>;
export type Recipe = RecipeWords & {
  format: 'zafiro-recipe';
  version: typeof finishFormat;
  id: string;
  edition: number;
  width?: number;
  picture?: string;
  front: NonNullable<Step['front']>;
  inside: { main: 'main'; strands: Finish['strands']; guides?: NonNullable<Finish['guides']> };
};

/** What is inside a recipe as a finish: upgrades and checks are those of finishes. */
const asFinish = (recipe: { id: string; name: string; version: unknown; inside: object }) => ({
  format: 'zafiro-finish',
  version: recipe.version,
  id: recipe.id,
  name: recipe.name,
  ...recipe.inside,
});

/**
 * A recipe from JSON of any version of the format, upgraded and checked. `repairs` are sentences about values that were brought inside today's bounds,
 * where the recipe was stored before. @throws {FinishError} naming the place.
 */
export function openRecipe(json: unknown, stored = false): { recipe: Recipe; repairs: string[] } {
  const given = json as Record<string, unknown> | null;
  if (typeof given !== 'object' || given?.format !== 'zafiro-recipe')
    throw new FinishError(
      'This is not a Zafiro recipe',
      'format',
      'Its first line says "format": "zafiro-recipe".',
    );
  const { version } = given;
  if (Number.isInteger(version) && (version as number) > finishFormat)
    throw new FinishError(
      `The recipe has format version ${version}`,
      'version',
      'Open it with a newer Zafiro.',
    );
  if (typeof given.inside !== 'object' || given.inside === null)
    throw new FinishError('The recipe has nothing inside', 'inside', 'Export it again.');
  const doc = asFinish(given as never);
  const { finish, repairs } = stored ? openFinish(doc) : { finish: parseFinish(doc), repairs: [] };
  const parsed = v.safeParse(recipeFrame, { ...given, version: finishFormat });
  if (!parsed.success) {
    const [issue] = parsed.issues;
    throw new FinishError(issue.message, v.getDotPath(issue) ?? 'recipe', 'Correct the recipe there.');
  }
  const [main] = finish.strands;
  if (finish.main !== packedMain || main.id !== packedMain || main.head.type !== 'input')
    throw new FinishError(
      'The main strand of the recipe does not begin at its input',
      'inside',
      'The first strand is “main”, and its head has the type “input”.',
    );
  const steps = new Map(finish.strands.flatMap((s) => s.steps.map((t) => [t.id, t])));
  for (const { name: called, drives } of parsed.output.front)
    for (const d of drives)
      if (!steps.has(d.step))
        throw new FinishError(
          `${called} drives the step “${d.step}”, which is not there`,
          'front',
          'Remove it.',
        );
  const { strands, guides } = finish;
  const recipe: Recipe = {
    ...parsed.output,
    inside: { main: packedMain, strands, ...(guides ? { guides } : {}) },
  };
  tryOut(recipe);
  return { recipe, repairs };
}

/** Uses a recipe once, so that what its front must not drive is refused with the file. @throws {FinishError} */
function tryOut(recipe: Recipe): void {
  const bare = newFinish('tried', 'Tried', { type: 'colour', colour: [0, 0, 0], alpha: 1 });
  edit('try', (draft) =>
    unpack(draft, packedOf(recipe, false), { strand: bare.main, index: 0 }, 'tried'),
  ).apply(bare);
}

/** What people read of a recipe, its number and picture: all but what is made from the use. */
export type About = RecipeWords & Pick<Recipe, 'id' | 'edition' | 'picture' | 'width'>;

/** The recipe that a use is, on its own. It stands by itself (`closeUse`). */
export function recipeOf(doc: Finish, useId: string, about: About): Recipe {
  const { use, strands, guides } = packedUse(doc, useId);
  return {
    format: 'zafiro-recipe',
    version: finishFormat,
    ...about,
    front: use.front ?? [],
    inside: { main: packedMain, strands, ...(guides.length > 0 ? { guides } : {}) },
  };
}

/** The recipe as it is put onto a strand. */
export function packedOf(recipe: Recipe, linked: boolean): Packed {
  const { id, edition, name, front, inside } = recipe;
  const values = defaultsOf(recipeSpec(front).values) as Step['values'];
  return {
    use: { type: 'recipe', name, bypass: false, values, front, recipe: { id, version: edition, linked } },
    main: packedMain,
    strands: inside.strands,
    guides: inside.guides ?? [],
  };
}
