import { useQuery, useQueryClient } from '@tanstack/react-query';
import { useCallback } from 'react';
import { listRecipes, type RecipeSummary, readRecipeVersion } from '../api/recipes';
import { request } from '../api/request';
import type { ShotDetail } from '../api/shots';
import { andThen, type Edit } from '../core/finish/edit';
import { linkPass } from '../core/finish/edits';
import type { Finish } from '../core/finish/finish';
import { slotsOf } from '../core/finish/uses';
import { aPass } from '../core/formats/pass-kinds';
import { strandKind } from '../core/formats/passes';
import type { PassKindOf } from '../core/recipes/close';
import { openRecipe, type Recipe } from '../core/recipes/recipe';
import type { Engine } from './engine/engine';

/** Recipes of the library in the page. */

const key = ['recipes'];

/** All recipes there are. Another page may save one: it is asked for anew when one comes back to this page, and each minute. */
export function useRecipes(): { recipes: readonly RecipeSummary[]; problem?: string; isLoading: boolean } {
  const { data, error, isLoading } = useQuery({
    queryKey: key,
    queryFn: () => request(listRecipes, {}),
    refetchInterval: 60_000,
    refetchOnWindowFocus: true,
  });
  return { recipes: data ?? [], problem: error?.message, isLoading };
}

/** Asks for the recipes anew, after one was saved here. */
export function useRefreshedRecipes(): () => Promise<void> {
  const client = useQueryClient();
  return useCallback(() => client.invalidateQueries({ queryKey: key }), [client]);
}

/** A version of a recipe, checked. @throws {Error} in words. */
export async function fetchRecipe(recipe: string, edition: number): Promise<Recipe> {
  const found = await request(readRecipeVersion, { params: { recipe, edition } });
  return openRecipe(found, true).recipe;
}

/** The same for a component. */
export function useRecipe(recipe: string | undefined, edition: number | undefined) {
  const { data, error } = useQuery({
    queryKey: [...key, recipe, edition],
    queryFn: () => fetchRecipe(recipe!, edition!),
    enabled: recipe !== undefined && edition !== undefined,
    staleTime: Number.POSITIVE_INFINITY,
  });
  return { recipe: data, problem: error?.message };
}

/** Kinds of the passes of a shot, for the slots of a recipe that is made of its steps. */
export const passKindsOf =
  (shot: ShotDetail): PassKindOf =>
  (media, pass) =>
    shot.media.find((m) => m.name === media)?.passes.find((p) => p.name === pass)?.kind;

/** A slot of a recipe that needs a pass which the shot lacks: what it is called, and “a depth pass”. */
export type Missing = { slot: string; pass: string };

/**
 * Links the slots of a use that ask for a kind of pass to the first one of that kind that the shot has. `missing` are those for which there is none; a
 * slot that is linked already stays.
 */
export function linkedPasses(
  doc: Finish,
  useId: string,
  shot: Pick<ShotDetail, 'media'>,
): { edit: Edit | undefined; missing: Missing[] } {
  let edit: Edit | undefined;
  const missing: Missing[] = [];
  for (const { strand, head } of slotsOf(doc, useId)) {
    if (head.from || !head.pass) continue;
    const found = shot.media.flatMap((m) =>
      m.passes.filter((p) => p.kind === head.pass).map((p) => ({ media: m.name, pass: p })),
    )[0];
    if (!found) {
      missing.push({ slot: strand.name, pass: aPass(head.pass) });
      continue;
    }
    const { media, pass } = found;
    const link = (d: Finish) =>
      linkPass(
        d,
        useId,
        strand.id,
        { type: 'pass', media, pass: pass.name },
        pass.label,
        undefined,
        strandKind(pass),
      );
    edit = edit ? andThen(edit, link) : link(doc);
  }
  return { edit, missing };
}

/** Width of the pictures of recipes, in pixels. */
const pictureWidth = 480;

/** A picture of a finish on a frame, as a small PNG in base64. @throws {Error} in words. */
export async function pictureOf(
  engine: Engine,
  finish: Finish,
  frame: number,
  width: number,
): Promise<string> {
  const scale = width > pictureWidth * 4 ? 0.25 : width > pictureWidth * 2 ? 0.5 : 1;
  const look = {
    request: { finish, point: { strand: finish.main, after: 'end' }, frame },
    view: { look: 'colour', stops: 0, gamma: 1, screen: { by: 'plain' }, backing: 'black', marks: false },
    beside: {},
  } as const;
  const made = await engine.framePicture(look, scale, false);
  if (!made) throw new Error('The picture was overtaken by another one.');
  const by = Math.min(1, pictureWidth / made.width);
  const canvas = new OffscreenCanvas(Math.round(made.width * by), Math.round(made.height * by));
  const context = canvas.getContext('2d')!;
  context.imageSmoothingQuality = 'high';
  context.drawImage(made.bitmap, 0, 0, canvas.width, canvas.height);
  made.bitmap.close();
  const bytes = new Uint8Array(await (await canvas.convertToBlob({ type: 'image/png' })).arrayBuffer());
  let text = '';
  for (let i = 0; i < bytes.length; i += 8192) text += String.fromCharCode(...bytes.subarray(i, i + 8192));
  return btoa(text);
}
