import { Columns2, RotateCcw, X } from 'lucide-react';
import { useEffect } from 'react';
import type { Version } from '@/api/finishes';
import { useShot } from '@/browser/session/store';
import { useVersions } from '@/browser/session/versions';
import { IconButton } from '../parts/IconButton';
import { State } from '../parts/State';
import { TextField } from '../parts/TextField';
import { when } from '../parts/when';
import { t } from '../words/words';

/** Saved versions of the finish, each edit by name: named, compared with, taken back. */
export function HistoryPanel({ onClose }: { onClose(): void }) {
  const versions = useVersions();
  const { refresh } = versions;
  useEffect(() => {
    refresh();
  }, [refresh]);
  return (
    <aside
      className="fixed top-11 right-0 bottom-0 z-30 grid w-88 grid-rows-[auto_minmax(0,1fr)] border-l border-line bg-base-100 shadow-xl"
      aria-label={t`History`}
      data-holds-keys
    >
      <header className="flex items-center border-b border-line py-2 pr-2 pl-4">
        <h2 className="mr-auto text-lg font-semibold">{t`History`}</h2>
        <IconButton icon={X} label={t`Close`} onClick={onClose} />
      </header>
      <ol className="overflow-y-auto">
        {versions.list.map((v, i) => (
          <Entry key={v.version} entry={v} newest={i === 0} />
        ))}
        {versions.list.length === 0 && (
          <li>
            {versions.problem ? (
              <State is="failed" title={t`The history could not be read`} words={versions.problem}>
                <button type="button" className="btn btn-sm btn-primary" onClick={() => refresh()}>
                  {t`Try again`}
                </button>
              </State>
            ) : (
              <State is="loading" title={t`The history is being read …`} />
            )}
          </li>
        )}
      </ol>
    </aside>
  );
}

function Entry({ entry, newest }: { entry: Version; newest: boolean }) {
  const versions = useVersions();
  const replace = useShot((s) => s.replace);
  const change = useShot((s) => s.change);
  const compare = useShot((s) => s.compare);
  const compareWith = async () => {
    if (!(await versions.fetch(entry.version))) return;
    const mode = compare.mode === 'off' ? 'wipe' : compare.mode;
    change({ compare: { ...compare, mode, with: `version:${entry.version}` } });
  };
  const takeBack = async () => {
    const document = await versions.fetch(entry.version);
    if (document) replace(document, `restore version ${entry.version}`);
  };
  return (
    <li
      className="group flex items-center gap-1 border-b border-line/60 py-1 pr-2 pl-4 text-[13px]"
      data-version={entry.version}
    >
      <span className="w-8 shrink-0 text-xs text-quiet">{entry.version}</span>
      <div className="min-w-0 flex-1">
        <span className="block truncate">{entry.label.replace(/^./, (c) => c.toUpperCase())}</span>
        <span className="flex items-center gap-2 text-xs text-quiet">
          {entry.by ? t`${when(entry.savedAt)} by ${entry.by}` : when(entry.savedAt)}
          <TextField
            label={t`Name of version ${entry.version}`}
            className="min-w-0 flex-1 rounded bg-transparent px-1 text-secondary placeholder:opacity-0 group-hover:placeholder:opacity-60 hover:bg-base-300 focus:bg-base-300"
            placeholder={t`name`}
            value={entry.name ?? ''}
            onCommit={(name) => {
              versions.rename(entry.version, name);
              return undefined;
            }}
          />
        </span>
      </div>
      <IconButton icon={Columns2} label={t`Compare with version ${entry.version}`} onClick={compareWith} />
      <IconButton
        icon={RotateCcw}
        label={t`Restore version ${entry.version}`}
        disabled={newest}
        onClick={takeBack}
      />
    </li>
  );
}
