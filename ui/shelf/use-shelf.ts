import { useQueryClient } from '@tanstack/react-query';
import { useRouter } from 'next/navigation';
import { toast } from 'sonner';
import { copyFinish, readFinish, saveFinish } from '@/api/finishes';
import { request } from '@/api/request';
import * as api from '@/api/shelf';
import { deleteShot } from '@/api/shots';
import { renameFinish } from '@/core/finish/edits';
import { t } from '../words/words';

export const shelfKey = ['shelf'];

type Thing = Pick<api.Deleted, 'type' | 'id' | 'name'>;

const restore = ({ type, id }: Thing) =>
  type === 'project'
    ? request(api.restoreProject, { params: { project: id } })
    : type === 'shot'
      ? request(api.restoreShot, { params: { shot: id } })
      : request(api.restoreFinish, { params: { finish: id } });

const remove = ({ type, id }: Thing, forever?: string) =>
  type === 'project'
    ? request(api.deleteProject, { params: { project: id }, query: { forever } })
    : type === 'shot'
      ? request(deleteShot, { params: { shot: id }, query: { forever } })
      : request(api.deleteFinish, { params: { finish: id }, query: { forever } });

/** What is done on the shelf; the shelf is looked at again after each. All throw in words what the server refuses. */
export function useShelfActions() {
  const client = useQueryClient();
  const router = useRouter();
  const after = async <T>(work: Promise<T>): Promise<T> => {
    const made = await work;
    await client.invalidateQueries({ queryKey: shelfKey });
    // Other screens that were drawn before must not show what was there then.
    router.refresh();
    return made;
  };
  const failed = (error: Error) => void toast.error(error.message);
  const bringBack = (thing: Thing) => after(restore(thing));
  return {
    addProject: (name: string) => after(request(api.addProject, { body: { name } })),
    changeProject: (project: number, body: { name?: string; archived?: boolean }) =>
      after(request(api.changeProject, { params: { project }, body })),
    changeShot: (shot: number, body: { name?: string; project?: number; archived?: boolean }) =>
      after(request(api.changeShot, { params: { shot }, body })),
    copyShot: (shot: number) => after(request(api.copyShot, { params: { shot } })),
    copyFinish: (copy: number, name: string) => after(request(copyFinish, { body: { copy, name } })),
    /** A finish has its name in its document: it becomes one more version. */
    renameFinish: async (finish: number, name: string) => {
      const { document, version } = await request(readFinish, { params: { finish } });
      const edit = renameFinish(name);
      const body = {
        from: version,
        document: edit.apply(document),
        label: edit.label,
        save: crypto.randomUUID(),
      };
      await after(request(saveFinish, { params: { finish }, body }));
    },
    bringBack,
    remove: async (thing: Thing) => {
      await after(remove(thing));
      toast(t`${thing.name} is deleted.`, {
        description: t`For 30 days it can be restored, below under “Deleted”.`,
        action: { label: t`Undo`, onClick: () => void bringBack(thing).catch(failed) },
        duration: 12_000,
      });
    },
    removeForever: (thing: Thing) => after(remove(thing, '1')),
    failed,
  };
}
