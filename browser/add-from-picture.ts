import type { Edit } from '../core/finish/edit';
import { type Finish, findStep } from '../core/finish/finish';
import { startedFrom, startValues } from '../core/finish/start-values';
import { stepSpec } from '../core/steps/registry';
import type { StartFacts } from '../core/steps/start';
import type { Engine } from './engine/engine';
import type { ShotStore } from './session/store';

/**
 * Does an edit that adds something and selects it: a step takes the values that its declaration takes from the picture, on the frame that is
 * looked at, and the sheet says so. One step back. False where the document refuses it.
 */
export async function addFromPicture(
  store: ShotStore,
  engine: Engine | undefined,
  added: (doc: Finish) => Edit,
  selects: string,
): Promise<boolean> {
  const { finish, frame, edit, change } = store.getState();
  let facts: StartFacts | undefined;
  try {
    const tried = added(finish).apply(finish);
    const type = findStep(tried, selects)?.step.type;
    if (type !== undefined && stepSpec(type)?.start) facts = await engine?.start(tried, selects, frame);
  } catch {
    // What the document refuses it refuses below; on a frame that is not there the defaults have to do.
  }
  if (!edit((doc) => (facts ? startedFrom(added(doc), selects, facts) : added(doc)))) return false;
  const values = facts ? startValues(store.getState().finish, selects, facts) : {};
  change({ selected: selects });
  if (Object.keys(values).length > 0)
    change({ started: { ...store.getState().started, [selects]: { frame, values } } });
  return true;
}
