import type { Role } from '../../api/access';
import { roles } from '../../api/access';
import type { Received, Route } from '../../api/contract';
import { rows } from '../base/connect';
import { NotFound, Refused } from '../base/refusals';
import { ruleOf, type Subject, subjectsOf } from './policy';
import { isShared, type Who } from './who';

/** Whether somebody may do what a request asks for. */

const rank = (role: Role | undefined) => (role === undefined ? -1 : roles.indexOf(role));

const projectQueries: Record<Exclude<keyof Subject, 'project' | 'upload'>, string> = {
  projectName: 'SELECT id AS project FROM project WHERE name = ?',
  shot: 'SELECT project_id AS project FROM shot WHERE id = ?',
  finish: 'SELECT s.project_id AS project FROM finish f JOIN shot s ON s.id = f.shot_id WHERE f.id = ?',
  media: 'SELECT s.project_id AS project FROM media m JOIN shot s ON s.id = m.shot_id WHERE m.id = ?',
  run: 'SELECT s.project_id AS project FROM export_run r JOIN shot s ON s.id = r.shot_id WHERE r.id = ?',
  reference:
    'SELECT s.project_id AS project FROM reference_picture p JOIN shot s ON s.id = p.shot_id WHERE p.id = ?',
};

/** The project that something lies in, if it is there. */
export async function projectOf(subject: Subject): Promise<number | undefined> {
  if (subject.project !== undefined) return subject.project;
  for (const [name, query] of Object.entries(projectQueries)) {
    const id = subject[name as keyof Subject];
    if (id !== undefined) return (await rows<{ project: number }>(query, [id]))[0]?.project;
  }
  return undefined;
}

/** The role of somebody in a project. */
export async function roleIn(project: number, who: Who): Promise<Role | undefined> {
  if (who.isAdmin) return 'manage';
  const [found] = await rows<{ role: Role }>(
    'SELECT role FROM membership WHERE project_id = ? AND account_id = ?',
    [project, who.account],
  );
  return found?.role;
}

/** True where somebody may look at a shot and change nothing. */
export async function looksOnly(shot: number, who: Who): Promise<boolean> {
  if (who.isAdmin) return false;
  const project = await projectOf({ shot });
  return project !== undefined && (await roleIn(project, who)) === 'look';
}

/** The projects that somebody may see, with their role in each; undefined for all, as one who manages them. */
export async function rolesOf(who: Who): Promise<Map<number, Role> | undefined> {
  if (who.isAdmin) return;
  const found = await rows<{ project_id: number; role: Role }>(
    'SELECT project_id, role FROM membership WHERE account_id = ?',
    [who.account],
  );
  return new Map(found.map((m) => [m.project_id, m.role]));
}

/** Ids of the projects that somebody may see; undefined for all. */
export async function projectsSeen(who: Who): Promise<Set<number> | undefined> {
  const found = await rolesOf(who);
  return found && new Set(found.keys());
}

async function rolesSomewhere(who: Who): Promise<number> {
  if (who.isAdmin) return rank('manage');
  const found = await rows<{ role: Role }>('SELECT DISTINCT role FROM membership WHERE account_id = ?', [
    who.account,
  ]);
  return Math.max(-1, ...found.map((m) => rank(m.role)));
}

const forbidden = (message: string, remedy = 'Ask somebody who manages the project.') =>
  new Refused('forbidden', message, remedy);
const deeds: Record<Role, string> = {
  look: 'look at this project',
  edit: 'change this project',
  manage: 'manage this project',
};

/** The project of a request that may be done. @throws {Refused} where it may not; {NotFound} for what one may not even see. */
export async function permit(
  who: Who | undefined,
  route: Route,
  given: Received<Route>,
): Promise<number | undefined> {
  const rule = ruleOf(route);
  if (!rule) throw new Refused('forbidden', 'Nobody may ask for this.');
  const { right } = rule;
  if (right === 'open' || right === 'node') return;
  if (!who) throw new Refused('signed-out', 'You are signed out.', 'Sign in; what you did here is kept.');
  if (!isShared()) return;
  if (who.by === 'token') {
    const isRead = route.method === 'GET';
    if (who.scope === 'node' || who.scope === 'metrics' || (who.scope === 'look' && !isRead))
      throw forbidden(`This token is for ${who.scope} alone.`, 'Make one with another scope.');
    if (right === 'manage' || right === 'manages-somewhere')
      throw forbidden('A token may look or edit, not manage.', 'Sign in with a browser.');
    // What a token may not give away: the account itself, and others.
    if (right === 'admin' || route.path.startsWith('/api/account') || route.path === '/api/sign-out')
      throw forbidden('A token may not do this.', 'Sign in with a browser.');
  }
  if (right === 'makes-projects') {
    if (!who.makesProjects)
      throw forbidden('You may not make projects.', 'Ask an administrator to make one, or to let you.');
    return;
  }
  if (right === 'anybody') return uploadOf(who, subjectsOf(route, given as never));
  if (right === 'admin') {
    if (!who.isAdmin) throw forbidden('This is for administrators.', 'Ask one of them.');
    return;
  }
  if (right === 'edits-somewhere' || right === 'manages-somewhere') {
    const needs = right === 'edits-somewhere' ? 'edit' : 'manage';
    if ((await rolesSomewhere(who)) < rank(needs))
      throw forbidden(`You may not ${needs === 'edit' ? 'change' : 'manage'} any project.`);
  }
  let about: number | undefined;
  for (const subject of subjectsOf(route, given as never)) {
    const project = await projectOf(subject);
    // What is not there is said by the route itself; what one may not see is as if it were not there.
    if (project === undefined) continue;
    about ??= project;
    const role = await roleIn(project, who);
    if (role === undefined) throw new NotFound('There is nothing under this address.');
    const needs: Role = right === 'edits-somewhere' || right === 'manages-somewhere' ? 'edit' : right;
    if (rank(role) < rank(needs))
      throw forbidden(`You may ${deeds[role]}, not ${deeds[needs].replace(' this project', ' it')}.`);
  }
  return about;
}

/** An upload is for who began it. */
async function uploadOf(who: Who, subjects: Subject[]): Promise<undefined> {
  for (const { upload } of subjects) {
    if (upload === undefined || who.isAdmin) continue;
    const [found] = await rows<{ account_id: number | null }>('SELECT account_id FROM upload WHERE id = ?', [
      upload,
    ]);
    if (!found || found.account_id !== who.account)
      throw new NotFound('This upload is not there any more. Begin again.');
  }
}
