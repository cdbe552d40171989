import type { RecipeDetail, RecipeSummary, RecipeUse } from '../../api/recipes';
import type { Step } from '../../core/finish/finish';
import { recipesIn } from '../../core/finish/uses';
import { openRecipe, type Recipe, type RecipeWords } from '../../core/recipes/recipe';
import type { Who } from '../access/who';
import { type Connection, database, type Row, rows, transaction } from '../base/connect';
import { needSpace } from '../base/free-space';
import { NotFound, Refused } from '../base/refusals';
import { loadFinish } from '../shots/finishes';

/** The library of recipes. Documents are stored as files have them, without the picture, which is beside them. */

const gone = 'This recipe is not there any more.';

type Stored = { id: string; edition: number; document: unknown; picture: number; saved_at: Date };

const newest = `SELECT r.id, r.edition, v.document, v.picture IS NOT NULL AS picture, v.saved_at
  FROM recipe r JOIN recipe_version v ON v.recipe_id = r.id AND v.edition = r.edition`;

type FinishRow = Omit<RecipeUse, 'editions' | 'linked'> & {
  projectId: number;
  recipes: NonNullable<Step['recipe']>[] | null;
};

/** Finishes whose newest version uses recipes of the library, the newest first. */
async function finishesWithRecipes(): Promise<(FinishRow & { recipes: NonNullable<Step['recipe']>[] })[]> {
  const found = await rows<FinishRow>(
    `SELECT s.id AS shot, s.name AS shotName, p.id AS projectId, p.name AS project, f.id AS finish, f.name AS finishName, f.recipes
     FROM finish f JOIN shot s ON s.id = f.shot_id JOIN project p ON p.id = s.project_id
     WHERE f.recipes IS NULL OR f.recipes <> '[]' ORDER BY f.id DESC`,
  );
  return Promise.all(
    found.map(async (row) => ({ ...row, recipes: row.recipes ?? (await writtenDown(row.finish)) })),
  );
}

/** The recipes of a finish that was saved before they were written down; now they are. */
async function writtenDown(finish: number): Promise<NonNullable<Step['recipe']>[]> {
  const { document, version } = await loadFinish(finish);
  const recipes = recipesIn(document);
  // Unless another version was saved meanwhile, which said its own.
  await database().query('UPDATE finish SET recipes = ? WHERE id = ? AND version = ? AND recipes IS NULL', [
    JSON.stringify(recipes),
    finish,
    version,
  ]);
  return recipes;
}

const wordsOf = ({ name, description, tags, licence }: RecipeWords): RecipeWords => ({
  name,
  description,
  tags,
  licence,
});

const summaryOf = ({ id, edition, document, picture, saved_at }: Stored, uses: number): RecipeSummary => {
  const { name, description = '', tags = [], licence = '' } = document as RecipeWords;
  return {
    id,
    edition,
    name,
    description,
    tags,
    licence,
    picture: picture === 1,
    savedAt: saved_at.toISOString(),
    uses,
  };
};

/** All recipes, by their names. */
export async function listRecipes(): Promise<RecipeSummary[]> {
  const [found, finishes] = [
    await rows<Stored>(`${newest} ORDER BY r.name, r.id`),
    await finishesWithRecipes(),
  ];
  const counts = new Map<string, number>();
  for (const { recipes } of finishes)
    for (const id of new Set(recipes.map((u) => u.id))) counts.set(id, (counts.get(id) ?? 0) + 1);
  return found.map((r) => summaryOf(r, counts.get(r.id) ?? 0));
}

/** A recipe with its versions, the newest first, and where it is used: in `projects`, or in all where none are given. @throws {NotFound} */
export async function recipeDetail(id: string, projects?: ReadonlySet<number>): Promise<RecipeDetail> {
  const [found] = await rows<Stored>(`${newest} WHERE r.id = ?`, [id]);
  if (!found) throw new NotFound(gone);
  const versions = await rows<{ edition: number; note: string; saved_at: Date }>(
    'SELECT edition, note, saved_at FROM recipe_version WHERE recipe_id = ? ORDER BY edition DESC',
    [id],
  );
  const usedIn = (await finishesWithRecipes()).flatMap(({ recipes, projectId, ...at }): RecipeUse[] => {
    const uses = recipes.filter((u) => u.id === id);
    if (uses.length === 0 || !(projects?.has(projectId) ?? true)) return [];
    const editions = [...new Set(uses.map((u) => u.version))].sort((a, b) => b - a);
    return [{ ...at, editions, linked: uses.filter((u) => u.linked).length }];
  });
  return {
    ...summaryOf(found, usedIn.length),
    versions: versions.map(({ saved_at, ...version }) => ({ ...version, savedAt: saved_at.toISOString() })),
    usedIn,
  };
}

/** One version with its picture, upgraded to today's format. @throws {NotFound} */
export async function loadRecipe(id: string, edition: number): Promise<Recipe> {
  const [found] = await rows<{ document: object; picture: Buffer | null }>(
    'SELECT document, picture FROM recipe_version WHERE recipe_id = ? AND edition = ?',
    [id, edition],
  );
  if (!found) throw new NotFound(gone);
  const { recipe } = openRecipe(found.document, true);
  return found.picture ? { ...recipe, picture: found.picture.toString('base64') } : recipe;
}

/** The picture of a version. @throws {NotFound} */
export async function recipePicture(id: string, edition: number): Promise<Buffer> {
  const [found] = await rows<{ picture: Buffer | null }>(
    'SELECT picture FROM recipe_version WHERE recipe_id = ? AND edition = ?',
    [id, edition],
  );
  if (!found?.picture) throw new NotFound('This recipe has no picture.');
  return found.picture;
}

async function insertVersion(c: Connection, { picture, ...recipe }: Recipe, note: string): Promise<void> {
  await c.query(
    'INSERT INTO recipe_version (recipe_id, edition, note, document, picture) VALUES (?, ?, ?, ?, ?)',
    [
      recipe.id,
      recipe.edition,
      note,
      JSON.stringify(recipe),
      picture ? Buffer.from(picture, 'base64') : null,
    ],
  );
}

/** The first of `base`, `base-2`, `base-3` … that no recipe has. */
async function freeRecipeId(c: Connection, base: string): Promise<string> {
  for (let n = 1; ; n++) {
    const id = n === 1 ? base : `${base.slice(0, 190)}-${n}`;
    const [[taken]] = await c.query<Row[]>('SELECT 1 FROM recipe WHERE id = ? FOR UPDATE', [id]);
    if (!taken) return id;
  }
}

async function insertRecipe(
  c: Connection,
  recipe: Recipe,
  note: string,
  account?: number,
): Promise<{ id: string; edition: number }> {
  const id = await freeRecipeId(c, recipe.id);
  const { edition, name } = recipe;
  await c.query('INSERT INTO recipe (id, edition, name, account_id) VALUES (?, ?, ?, ?)', [
    id,
    edition,
    name,
    account ?? null,
  ]);
  await insertVersion(c, { ...recipe, id }, note);
  return { id, edition };
}

/**
 * Keeps a recipe: a new one, or the version after `after`. Committed to disk when this resolves.
 * @throws {Refused} `conflict` with the newest version where somebody else saved one in between.
 */
export async function saveRecipe(given: unknown, note: string, after?: number, account?: number) {
  await needSpace('Free some space, then save the recipe again.');
  const { recipe } = openRecipe(given);
  return transaction(async (c) => {
    if (after === undefined) return insertRecipe(c, { ...recipe, edition: 1 }, note, account);
    const [[found]] = await c.query<Row[]>('SELECT edition FROM recipe WHERE id = ? FOR UPDATE', [recipe.id]);
    if (!found) return insertRecipe(c, { ...recipe, edition: after + 1 }, note, account);
    if (found.edition !== after)
      throw new Refused(
        'conflict',
        `Version ${found.edition} of ${recipe.name} was saved in the meantime.`,
        'Take it first, or save yours as a recipe of its own.',
        found.edition,
      );
    const edition = after + 1;
    await insertVersion(c, { ...recipe, edition }, note);
    await c.query('UPDATE recipe SET edition = ?, name = ? WHERE id = ?', [edition, recipe.name, recipe.id]);
    return { id: recipe.id, edition };
  });
}

/** What tells recipes apart: all but their number and picture. */
const contentOf = ({ edition: _, picture: __, ...rest }: Recipe) => JSON.stringify(rest);

/** Takes in a recipe from a file: what is here already is left, another content of the same recipe is its next version. */
export async function importRecipe(given: unknown, note = 'imported', account?: number) {
  await needSpace('Free some space, then import the recipe again.');
  const { recipe } = openRecipe(given);
  const { id, name } = recipe;
  return transaction(async (c) => {
    const [[here]] = await c.query<Row[]>('SELECT edition FROM recipe WHERE id = ? FOR UPDATE', [id]);
    if (!here) {
      const made = await insertRecipe(c, recipe, note, account);
      return { ...made, name, became: 'recipe' as const };
    }
    const [versions] = await c.query<Row[]>(
      'SELECT edition, document FROM recipe_version WHERE recipe_id = ? ORDER BY edition DESC',
      [id],
    );
    const same = versions.find((v) => contentOf(openRecipe(v.document, true).recipe) === contentOf(recipe));
    if (same) return { id, edition: same.edition as number, name, became: 'known' as const };
    const edition = Math.max(here.edition + 1, recipe.edition);
    await insertVersion(c, { ...recipe, edition }, note);
    await c.query('UPDATE recipe SET edition = ?, name = ? WHERE id = ?', [edition, name, id]);
    return { id, edition, name, became: 'version' as const };
  });
}

/** Changes the words of the newest version. @throws {NotFound} */
export async function changeRecipe(id: string, words: Partial<RecipeWords>): Promise<void> {
  await transaction(async (c) => {
    const [[found]] = await c.query<Row[]>(`${newest} WHERE r.id = ? FOR UPDATE`, [id]);
    if (!found) throw new NotFound(gone);
    const before = openRecipe(found.document, true).recipe;
    const after = { ...before, ...wordsOf({ ...before, ...words }) };
    await c.query('UPDATE recipe_version SET document = ? WHERE recipe_id = ? AND edition = ?', [
      JSON.stringify(after),
      id,
      found.edition,
    ]);
    await c.query('UPDATE recipe SET name = ? WHERE id = ?', [after.name, id]);
  });
}

/**
 * Takes a recipe out of the library: by whoever brought it, or an administrator. Finishes that use it have all of it inside, and go on.
 * @throws {NotFound} @throws {Refused}
 */
export async function deleteRecipe(id: string, who: Pick<Who, 'account' | 'isAdmin'>): Promise<void> {
  await transaction(async (c) => {
    const [[found]] = await c.query<Row[]>('SELECT account_id FROM recipe WHERE id = ? FOR UPDATE', [id]);
    if (found && !who.isAdmin && found.account_id !== who.account)
      throw new Refused(
        'forbidden',
        'Somebody else brought this recipe into the library.',
        'Ask them, or an administrator.',
      );
    const [done] = await c.query('DELETE FROM recipe WHERE id = ?', [id]);
    if ((done as { affectedRows: number }).affectedRows === 0) throw new NotFound(gone);
  });
}
