import * as access from '../../api/access';
import type { Given, Received, Route } from '../../api/contract';
import * as exports_ from '../../api/exports';
import * as files from '../../api/files';
import * as finishes from '../../api/finishes';
import * as machines from '../../api/machines';
import * as media from '../../api/media';
import * as node from '../../api/node';
import * as queue from '../../api/queue';
import * as recipes from '../../api/recipes';
import * as references from '../../api/references';
import { routesOf } from '../../api/routes';
import * as shelf from '../../api/shelf';
import * as shots from '../../api/shots';
import * as stepPresets from '../../api/step-presets';

/**
 * Who may ask what. A route whose address names something of a project needs a role there: *look* to read, *edit* to change; what differs from
 * that stands here, and every other route does.
 */

/** What a request is about: each lies in a project. */
export type Subject = Partial<
  Record<'project' | 'shot' | 'finish' | 'media' | 'run' | 'reference', number> & {
    projectName: string;
    upload: string;
  }
>;

export type Right =
  /** Whoever reaches the server. */
  | 'open'
  /** Whoever has signed in. */
  | 'anybody'
  /** A role in the project that it is about. */
  | access.Role
  /** A role in some project, where it is about none. */
  | 'edits-somewhere'
  | 'manages-somewhere'
  /** Whoever an administrator lets make projects. */
  | 'makes-projects'
  | 'admin'
  /** The routes of machines, which let in by their own token (`server/nodes/token.ts`). */
  | 'node';

export type Rule = {
  right: Right;
  /** What the body says it is about, beside the address. */
  about?: (given: Received<Route>) => Subject[];
  /** Reads files, takes disk or processors: so many a minute for an account. */
  most?: number;
  /** What is kept in the record of who did what. */
  does?: string;
};

const named = ['project', 'shot', 'finish', 'media', 'run', 'reference', 'upload'] as const;
const rules = new Map<Route, Rule>();
const allow = <R extends Route>(
  route: R,
  right: Right,
  more: Omit<Rule, 'right' | 'about'> & { about?: (given: Received<R>) => Subject[] } = {},
) => rules.set(route, { right, ...(more as Omit<Rule, 'right'>) });

// Sessions and accounts.
allow(shots.readHealth, 'open');
allow(access.signIn, 'open');
allow(access.signOut, 'anybody', { does: 'signed out' });
allow(access.readAccount, 'anybody');
allow(access.changePassword, 'anybody', { does: 'changed the own password', most: 20 });
allow(access.beginFactor, 'anybody', { does: 'began a second factor', most: 20 });
allow(access.confirmFactor, 'anybody', { does: 'set a second factor', most: 20 });
allow(access.endFactor, 'anybody', { does: 'ended the second factor', most: 20 });
allow(access.addToken, 'anybody', { does: 'made a token', most: 20 });
allow(access.endToken, 'anybody', { does: 'ended a token' });
allow(access.listPeople, 'admin');
allow(access.addPerson, 'admin', { does: 'made an account' });
allow(access.changePerson, 'admin', { does: 'changed an account' });
allow(access.removePerson, 'admin', { does: 'removed an account' });
allow(access.readMembers, 'manage');
allow(access.setMember, 'manage', { does: 'changed who may do what' });
allow(access.setRoots, 'admin', { does: 'changed the folders of a project' });
allow(access.readRecord, 'admin');

// The shelf.
allow(shelf.readShelf, 'anybody');
allow(shelf.addProject, 'makes-projects', { does: 'made a project' });
allow(shelf.changeProject, 'manage', { does: 'changed a project' });
allow(shelf.deleteProject, 'manage', { does: 'deleted a project' });
allow(shelf.restoreProject, 'manage', { does: 'restored a project' });
allow(shelf.changeShot, 'edit', {
  about: ({ body }) => (body.project === undefined ? [] : [{ project: body.project }]),
  does: 'changed a shot',
});
allow(shelf.copyShot, 'edit', { does: 'duplicated a shot' });
allow(shelf.restoreShot, 'edit', { does: 'restored a shot' });
allow(shelf.openedShot, 'look');
allow(shelf.deleteFinish, 'edit', { does: 'deleted a finish' });
allow(shelf.restoreFinish, 'edit', { does: 'restored a finish' });
allow(shelf.savePoster, 'look');
allow(shots.deleteShot, 'edit', { does: 'deleted a shot' });

// Frames: a folder of the server is looked through by those who manage a project alone.
allow(files.browse, 'manages-somewhere', { most: 300 });
allow(files.lookAtFirst, 'edits-somewhere', { most: 300 });
allow(files.beginUpload, 'edits-somewhere', { most: 60 });
allow(files.readUpload, 'anybody');
allow(files.sendFile, 'anybody');
allow(shots.addShot, 'edits-somewhere', {
  about: ({ body }) => [{ projectName: body.project }],
  most: 60,
  does: 'imported a shot',
});
allow(shots.addMedia, 'edit', { most: 60, does: 'added media' });
allow(media.changeMedia, 'edit', { does: 'changed media' });
allow(media.readContents, 'look', { most: 600 });
allow(media.listObjects, 'look', { most: 600 });

// Finishes.
allow(finishes.saveFinish, 'edit', { does: 'saved a finish' });
allow(finishes.copyFinish, 'edit', {
  about: ({ body }) => [{ finish: body.copy }],
  does: 'duplicated a finish',
});
allow(finishes.addFinish, 'edit', { does: 'added a finish' });
allow(finishes.nameVersion, 'edit', { does: 'named a version' });
allow(references.addReference, 'edit', { most: 60, does: 'added a reference picture' });
allow(references.deleteReference, 'edit', { does: 'deleted a reference picture' });

// Exports. The settings that have names are everybody's.
allow(exports_.listExports, 'look', { about: ({ query }) => [{ shot: query.shot }] });
allow(exports_.listPresets, 'anybody');
allow(exports_.savePreset, 'edits-somewhere', { does: 'kept an export preset' });
allow(exports_.deletePreset, 'edits-somewhere', { does: 'deleted an export preset' });
allow(exports_.listPlaces, 'anybody');
allow(exports_.lookAtPlace, 'edit', { about: ({ body }) => [{ shot: body.shot }], most: 300 });
allow(exports_.createExport, 'edit', {
  about: ({ body }) => [{ shot: body.shot }],
  most: 60,
  does: 'exported',
});
allow(exports_.cancelExport, 'edit', { does: 'cancelled an export' });
allow(exports_.pauseExport, 'edit', { does: 'paused an export, or let it go on' });
allow(exports_.removeExport, 'edit', { does: 'removed an export' });
allow(exports_.retryExport, 'edit', { does: 'tried an export again' });
allow(exports_.setUrgency, 'edit', { does: 'changed the turn of an export' });
allow(exports_.downloadExport, 'look', { most: 300, does: 'downloaded an export' });
allow(queue.readQueue, 'anybody');
allow(queue.readWebhook, 'admin');
allow(queue.setWebhook, 'admin', { does: 'changed who is notified of exports' });
allow(queue.tryWebhook, 'admin', { does: 'sent a message to try it' });

// Recipes and presets: one library for all.
allow(recipes.listRecipes, 'anybody');
allow(recipes.readRecipe, 'anybody');
allow(recipes.readRecipeVersion, 'anybody');
allow(recipes.readRecipePicture, 'anybody');
allow(recipes.saveRecipe, 'edits-somewhere', { does: 'saved a recipe' });
allow(recipes.importRecipe, 'edits-somewhere', { does: 'imported a recipe' });
allow(recipes.changeRecipe, 'edits-somewhere', { does: 'changed a recipe' });
allow(recipes.deleteRecipe, 'edits-somewhere', { does: 'deleted a recipe' });
allow(stepPresets.listStepPresets, 'anybody');
allow(stepPresets.saveStepPreset, 'edits-somewhere', { does: 'kept a preset' });
allow(stepPresets.deleteStepPreset, 'edits-somewhere', { does: 'deleted a preset' });

// Machines.
allow(machines.listMachines, 'anybody');
allow(machines.drainMachine, 'admin', { does: 'drained a machine' });
allow(machines.removeMachine, 'admin', { does: 'removed a machine' });
allow(machines.renewToken, 'admin', { does: 'renewed the token of machines' });
for (const route of routesOf(node)) allow(route, 'node');

/** The rule of a route; undefined for one that nothing is said of and that is about no project. */
export function ruleOf(route: Route): Rule | undefined {
  const rule = rules.get(route);
  if (rule) return rule;
  if (!named.some((name) => name in route.params)) return;
  return { right: route.method === 'GET' ? 'look' : 'edit' };
}

/** What a request is about, by its address and its body. */
export function subjectsOf(route: Route, given: Given<Route>): Subject[] {
  const received = given as unknown as Received<Route>;
  const params = received.params as Record<string, number | string>;
  const found = Object.fromEntries(named.filter((n) => n in params).map((n) => [n, params[n]]));
  return [
    ...(Object.keys(found).length ? [found as Subject] : []),
    ...(ruleOf(route)?.about?.(received) ?? []),
  ];
}
