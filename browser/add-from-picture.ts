import type { Edit } from '../core/finish/edit';
import type { Finish } from '../core/finish/finish';
import { startedFrom, startingSteps, startValues } from '../core/finish/start-values';
import type { Values } from '../core/steps/shared/define';
import type { StartFacts } from '../core/steps/shared/start-facts';
import type { Engine } from './engine/engine';
import type { ShotStore } from './session/store';

/**
 * Does an edit that adds something, and selects it or what is to be shown in its place: steps take the values that their declarations take from the
 * picture, on the frame that is looked at, and the sheet says so. One step back. False where the document refuses it.
 */
export async function addFromPicture(
  store: ShotStore,
  engine: Engine | undefined,
  added: (doc: Finish) => Edit,
  shows: string,
): Promise<boolean> {
  const { finish, frame, edit, change } = store.getState();
  const facts: [string, StartFacts][] = [];
  const started: Record<string, { frame: number; values: Values }> = {};
  try {
    const tried = added(finish).apply(finish);
    for (const id of startingSteps(finish, tried)) {
      const found = await engine?.start(tried, id, frame);
      if (!found) continue;
      facts.push([id, found]);
      const values = startValues(tried, id, found);
      if (Object.keys(values).length > 0) started[id] = { frame, values };
    }
  } catch {
    // What the document refuses it refuses below; on a frame that is not there the defaults have to do.
  }
  if (!edit((doc) => facts.reduce((done, [id, found]) => startedFrom(done, id, found), added(doc))))
    return false;
  change({ selected: shows, started: { ...store.getState().started, ...started } });
  return true;
}
