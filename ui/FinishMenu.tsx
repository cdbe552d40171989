import { ChevronDown } from 'lucide-react';
import { useRouter } from 'next/navigation';
import { toast } from 'sonner';
import { addFinish, copyFinish } from '@/api/finishes';
import { request } from '@/api/request';
import { deleteFinish, restoreFinish } from '@/api/shelf';
import type { ShotDetail } from '@/api/shots';
import { useRefusing, useShot, useShotStore } from '@/browser/session/store';
import { useSession } from '@/browser/session/use-session';
import { newFinish, renameFinish } from '@/core/finish/edits';
import { type Head, mainStrand } from '@/core/finish/finish';
import { headTaps } from '@/core/finish/graph';
import { finishFileName, runCommand } from '@/core/finish/run-command';
import { Dropdown } from './parts/Dropdown';
import { MenuItem } from './parts/MenuItem';
import { saveFile } from './parts/save-file';
import { TextField } from './parts/TextField';
import { t } from './words/words';

/** A head that takes from no other strand. */
const isOwn = (head: Head) => headTaps(head).length === 0;

/** The finishes of a shot: another is opened, this one named anew or copied. */
export function FinishMenu({ shot }: { shot: ShotDetail }) {
  const { finish, autosave } = useSession();
  const name = useShot((s) => s.finish.name);
  const refusing = useRefusing();
  const router = useRouter();
  const store = useShotStore();
  const setProblem = (words: string) => void toast.error(words);
  /** Leaves for another finish once all of this one is saved. */
  const open = async (id: number) => {
    await autosave.flush();
    if (autosave.isClean()) router.push(`/shots/${shot.id}?finish=${id}`);
    else setProblem(t`The last edits are not saved yet. Save them first, or undo them.`);
  };
  /** One without steps, of the same head. */
  const begin = async () => {
    await autosave.flush();
    try {
      const now = store.getState().finish;
      const { head, kind } = mainStrand(now);
      const plain = isOwn(head)
        ? head
        : ({ type: 'pass', media: shot.media[0]?.name ?? '', pass: '' } as const);
      const document = newFinish('finish', t`New finish`, plain, kind === 'data' ? 'data' : 'picture');
      const body = { document, label: t`begin` };
      await open((await request(addFinish, { params: { shot: shot.id }, body })).finish);
    } catch (error) {
      setProblem((error as Error).message);
    }
  };
  /** Puts this finish aside, and opens another. */
  const remove = async () => {
    await autosave.flush();
    try {
      const other = shot.finishes.find((f) => f.id !== finish);
      await request(deleteFinish, { params: { finish }, query: {} });
      toast(t`${name} is deleted.`, {
        description: t`For 30 days it can be restored on the shelf.`,
        action: {
          label: t`Undo`,
          onClick: () =>
            void request(restoreFinish, { params: { finish } })
              .then(() => router.push(`/shots/${shot.id}?finish=${finish}`))
              .catch((error) => toast.error((error as Error).message)),
        },
      });
      if (other) router.push(`/shots/${shot.id}?finish=${other.id}`);
    } catch (error) {
      setProblem((error as Error).message);
    }
  };
  const copy = async () => {
    await autosave.flush();
    try {
      const body = { copy: finish, name: `${name}, copy` };
      await open((await request(copyFinish, { body })).finish);
    } catch (error) {
      setProblem((error as Error).message);
    }
  };
  return (
    <Dropdown
      className="!dropdown-start min-w-0"
      summary={
        <summary
          className="flex cursor-pointer list-none items-center gap-1 truncate rounded px-1 text-base-content hover:bg-base-300"
          aria-label={t`Finish ${name}`}
          title={t`Finishes of this shot`}
        >
          {name} <ChevronDown size={13} />
        </summary>
      }
    >
      <div className="dropdown-content z-30 mt-1 grid w-64 gap-1 rounded-box border border-line bg-base-200 p-2 text-[13px] shadow-lg">
        <ul aria-label={t`Finishes`}>
          {shot.finishes.map((f) => (
            <li key={f.id}>
              <button
                type="button"
                className={`w-full cursor-pointer rounded px-2 py-1 text-left hover:bg-base-300 ${f.id === finish ? 'text-primary' : ''}`}
                aria-current={f.id === finish}
                onClick={() => f.id !== finish && open(f.id)}
              >
                {f.id === finish ? name : f.name}
              </button>
            </li>
          ))}
        </ul>
        <div className="flex items-center gap-2 border-t border-line px-2 pt-2">
          {t`Name`}
          <span className="ml-auto w-40">
            <TextField
              label={t`Name`}
              className="input input-xs w-full"
              value={name}
              onCommit={(text) => (text.trim() ? refusing(renameFinish(text.trim())) : undefined)}
            />
          </span>
        </div>
        <ul className="grid gap-1">
          {!shot.looksOnly && <MenuItem onClick={copy}>{t`Copy this finish`}</MenuItem>}
          {!shot.looksOnly && <MenuItem onClick={begin}>{t`New finish without steps`}</MenuItem>}
          <MenuItem
            title={t`As JSON, for ./zafiro run, another server, or a version control.`}
            onClick={() => {
              const { finish: doc } = store.getState();
              saveFile(finishFileName(doc.name), `${JSON.stringify(doc, null, 2)}\n`, 'application/json');
            }}
          >
            {t`Save the finish as a file`}
          </MenuItem>
          <MenuItem
            title={t`Renders the saved file without the interface.`}
            onClick={() =>
              navigator.clipboard.writeText(runCommand(store.getState().finish, shot)).then(
                () => toast(t`The command is on the clipboard. Save the finish as a file first.`),
                () => setProblem(t`This browser does not let pages copy.`),
              )
            }
          >
            {t`Copy the command`}
          </MenuItem>
          {shot.finishes.length > 1 && !shot.looksOnly && (
            <MenuItem onClick={remove}>{t`Delete this finish`}</MenuItem>
          )}
        </ul>
      </div>
    </Dropdown>
  );
}
