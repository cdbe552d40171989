import { useQuery } from '@tanstack/react-query';
import { readMembers, roles, setMember, setRoots } from '@/api/access';
import { request } from '@/api/request';
import { DialogEnd } from '../parts/DialogEnd';
import { Modal } from '../parts/Modal';
import { TextField } from '../parts/TextField';
import { t } from '../words/words';
import { useWork } from './use-work';

const roleWords = { look: t`may look`, edit: t`may edit`, manage: t`may manage` };

/** Who may do what in a project, and which folders its frames may be read from. */
export function MembersDialog({
  project,
  name,
  isAdmin,
  onClose,
}: {
  project: number;
  name: string;
  isAdmin: boolean;
  onClose(): void;
}) {
  const key = ['members', project];
  const params = { project };
  const { data, error } = useQuery({ queryKey: key, queryFn: () => request(readMembers, { params }) });
  const { problem, work } = useWork(key);
  return (
    <Modal label={t`People of ${name}`} box="w-lg" onClose={onClose}>
      <h2 className="text-lg font-semibold">{t`People of ${name}`}</h2>
      <ul className="mt-3 grid max-h-80 gap-1 overflow-y-auto text-sm">
        {data?.members.map((m) => (
          <li key={m.id} className="flex items-center gap-3">
            <span className="min-w-0 flex-1 truncate">{m.name}</span>
            <select
              className="select select-sm w-40"
              aria-label={t`What ${m.name} may do`}
              value={m.role ?? ''}
              onChange={(e) => {
                const role = roles.find((r) => r === e.target.value) ?? null;
                void work(() => request(setMember, { params, body: { account: m.id, role } }));
              }}
            >
              <option value="">{t`does not see it`}</option>
              {roles.map((role) => (
                <option key={role} value={role}>
                  {roleWords[role]}
                </option>
              ))}
            </select>
          </li>
        ))}
      </ul>
      {data && isAdmin && (
        <div className="mt-4 grid gap-1 text-sm">
          {t`Folders of the server that its frames may be read from`}
          <TextField
            label={t`Folders, separated by colons`}
            className="input input-sm w-full"
            placeholder={t`none of the server’s`}
            value={data.roots.join(':')}
            onCommit={(text) => {
              const roots = text.split(':').filter((r) => r.trim() !== '');
              void work(() => request(setRoots, { params, body: { roots } }));
              return undefined;
            }}
          />
        </div>
      )}
      <DialogEnd problem={problem || (error?.message ?? '')} cancel={t`Close`} onCancel={onClose} />
    </Modal>
  );
}
