import * as access from './access';
import type { Route } from './contract';
import * as events from './events';
import * as exports_ from './exports';
import * as files from './files';
import * as finishes from './finishes';
import * as machines from './machines';
import * as media from './media';
import * as node from './node';
import * as queue from './queue';
import * as recipes from './recipes';
import * as references from './references';
import * as shelf from './shelf';
import * as shots from './shots';
import * as stepPresets from './step-presets';

/** The routes that a module of the contract declares. */
export const routesOf = (module: object): Route[] =>
  (Object.values(module) as unknown[]).filter(
    (r): r is Route => typeof r === 'object' && r !== null && 'method' in r && 'path' in r,
  );

/** All routes of the contract. */
export const allRoutes: readonly Route[] = [
  ...[access, events, exports_, files, finishes, machines, media],
  ...[node, queue, recipes, references, shelf, shots, stepPresets],
].flatMap(routesOf);
