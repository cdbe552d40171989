import type { ShotStore } from '@/browser/session/store';
import type { Head } from '@/core/finish/finish';

/** True where nothing has been chosen or drawn yet at a head of objects or shapes. */
export const isUnchosen = (head: Head | undefined): boolean =>
  (head?.type === 'ids' && head.objects.length === 0) ||
  (head?.type === 'shapes' && head.shapes.length === 0);

/** Goes on to the picture, where the objects of a matte are clicked or its shapes drawn; the sheet stays as it is. */
export function chooseOnPicture(store: ShotStore, strandId: string): void {
  const { finish, change } = store.getState();
  const head = finish.strands.find((s) => s.id === strandId)?.head;
  if (head?.type === 'ids') change({ tool: { type: 'pick-objects', strand: strandId } });
  if (head?.type === 'shapes')
    change({ tool: { type: 'draw', with: 'path', strand: strandId }, points: [], shape: undefined });
}
