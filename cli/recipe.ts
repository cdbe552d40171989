import { readFileSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import type { Command } from 'commander';
import type { AnswerOf, Given, Route } from '../api/contract';
import { importRecipe, listRecipes, readRecipe, readRecipeVersion } from '../api/recipes';
import { type RequestError, request } from '../api/request';
import { passKinds } from '../core/formats/pass-kinds';
import { openRecipe } from '../core/recipes/recipe';
import { declared, ended, UsageError } from '../engine/node/command-line';

/** The address of what runs on the data folder. @throws {UsageError} */
function runningAt(): string {
  const folder = process.env.ZAFIRO_DATA ?? '.zafiro';
  try {
    return JSON.parse(readFileSync(join(folder, 'run.json'), 'utf8')).address;
  } catch {
    throw new UsageError(`Nothing runs on ${folder}. Start it with ./zafiro start, or set ZAFIRO_DATA.`);
  }
}

/** Where people sign in a script does too, with a token whose scope is look or edit. */
const token = process.env.ZAFIRO_TOKEN;
const headers: Record<string, string> = token ? { authorization: `Bearer ${token}` } : {};

/** Asks the server by the contract. @throws {Error} in its words. */
async function ask<R extends Route>(route: R, given: Given<R>): Promise<AnswerOf<R>> {
  try {
    return await request(route, given, { base: runningAt(), headers });
  } catch (error) {
    if ((error as RequestError).code !== 'unreachable') throw error;
    throw new Error(`Zafiro does not answer at ${runningAt()}. Start it again.`);
  }
}

function readJson(path: string): unknown {
  let text: string;
  try {
    text = readFileSync(path, 'utf8');
  } catch {
    throw new Error(`${path} cannot be read. Name a file that is there.`);
  }
  try {
    return JSON.parse(text);
  } catch {
    throw new Error(`${path} is not JSON. Export the recipe again.`);
  }
}

const line = (text: string) => process.stdout.write(`${text}\n`);

async function list() {
  for (const { id, edition, name, uses } of await ask(listRecipes, {}))
    line(`${id.padEnd(28)} version ${edition}, used ${uses} ×  ${name}`);
  return 0;
}

/** Each file by itself: one that is refused does not keep the others out. */
async function take(paths: readonly string[]) {
  let failed = 0;
  for (const path of paths)
    try {
      const { id, edition, name, became } = await ask(importRecipe, { body: { recipe: readJson(path) } });
      const words = { recipe: 'is in the library', version: 'has a new version', known: 'is here already' }[
        became
      ];
      line(`${name} ${words}: ${id}, version ${edition}`);
    } catch (error) {
      failed++;
      process.stderr.write(`zafiro: ${path}: ${(error as Error).message}\n`);
    }
  return failed > 0 ? 1 : 0;
}

async function give(id: string, version: string | undefined, out = `${id}.zafiro-recipe.json`) {
  if (version !== undefined && !/^\d{1,9}$/.test(version))
    throw new UsageError('--version takes a whole number.');
  const edition =
    version === undefined ? (await ask(readRecipe, { params: { recipe: id } })).edition : Number(version);
  const recipe = await ask(readRecipeVersion, { params: { recipe: id, edition } });
  writeFileSync(out, `${JSON.stringify(recipe, null, 1)}\n`);
  line(out);
  return 0;
}

/** What is in a file, without a server. */
function check(paths: readonly string[]) {
  for (const path of paths) {
    const { recipe, repairs } = openRecipe(readJson(path), true);
    const { id, edition, name, tags, front, inside } = recipe;
    const slots = inside.strands.flatMap(({ id, name, kind, head }) =>
      head.type === 'input' && id !== inside.main
        ? [`${name} (${head.pass ? `${passKinds[head.pass]} pass` : kind})`]
        : [],
    );
    const steps = inside.strands.flatMap((s) => s.steps).length;
    line(`${path}: ${name}, ${id} version ${edition}${tags.length > 0 ? `, ${tags.join(', ')}` : ''}`);
    line(`  ${steps} steps on ${inside.strands.length} strands`);
    line(`  front: ${front.map((f) => f.name).join(', ') || 'the amount alone'}`);
    line(`  slots: ${slots.join(', ') || 'none'}`);
    for (const words of repairs) line(`  ${words}`);
  }
  return 0;
}

/** `zafiro recipe`: the library of recipes, of what runs on this data folder, or a file. */
export function declareRecipe(program: Command): void {
  const recipe = declared(
    program,
    'recipe',
    'The library of recipes: of what runs on this data folder, or a file.',
    ['recipe list', 'recipe export radiant-object --out radiant.zafiro-recipe.json'],
  );
  declared(recipe, 'list', 'All recipes of the library.', ['recipe list']).action(ended(list));
  declared(recipe, 'import', 'Takes recipes from files into the library.', [
    'recipe import *.zafiro-recipe.json',
  ])
    .argument('<FILE...>')
    .action(ended(take));
  // Its --version is that of the recipe.
  declared(
    recipe,
    'export',
    'Writes a recipe into a file.',
    ['recipe export radiant-object --version 2'],
    false,
  )
    .argument('<ID>')
    .option('--version <NUMBER>', 'one before the newest')
    .option('--out <FILE>')
    .action(
      ended((id: string, { version, out }: { version?: string; out?: string }) => give(id, version, out)),
    );
  declared(recipe, 'check', 'What is in files, without a server.', [
    'recipe check radiant.zafiro-recipe.json',
  ])
    .argument('<FILE...>')
    .action(ended(check));
}
