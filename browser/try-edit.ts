import { toast } from 'sonner';
import type { Edit } from '../core/finish/edit';
import { FinishError } from '../core/finish/finish';
import type { ShotStore } from './shot-store';

/** Does an edit that the document may refuse (a link into itself, a strand that others need): the reason is said, and nothing changes. */
export function tryEdit(store: ShotStore, make: () => Edit): boolean {
  try {
    store.getState().edit(make());
    return true;
  } catch (error) {
    if (!(error instanceof FinishError)) throw error;
    toast.error(`${error.problem}.`, { description: error.mend });
    return false;
  }
}
