import { ChevronUp, Folder } from 'lucide-react';
import { useCallback, useEffect, useState } from 'react';
import { browse, type Listing } from '@/api/files';
import { request } from '@/api/request';
import { t } from '../words/words';
import { type Found, fromServer } from './found';

/** Folders of the machine that the server runs on; choosing one shows the sequences in it. */
export function FolderBrowser({ onFound }: { onFound(found: Found[]): void }) {
  const [listing, setListing] = useState<Listing | null>(null);
  const [typed, setTyped] = useState('');
  const [problem, setProblem] = useState('');

  const open = useCallback(async (path: string): Promise<Listing | undefined> => {
    setProblem('');
    try {
      const found = await request(browse, { query: { path } });
      setListing(found);
      setTyped(found.path);
      return found;
    } catch (error) {
      setProblem((error as Error).message);
    }
  }, []);
  useEffect(() => {
    open('');
  }, [open]);
  const choose = async (path: string) => {
    const found = await open(path);
    if (found) onFound(found.sequences.map(fromServer));
  };

  return (
    <section
      className="grid min-h-0 grid-rows-[auto_auto_minmax(0,1fr)] gap-2 px-3 pb-3"
      aria-label={t`Folders`}
    >
      <h2 className="text-[13px] font-semibold">{t`On this machine`}</h2>
      <form
        className="flex gap-1"
        onSubmit={(e) => {
          e.preventDefault();
          choose(typed);
        }}
      >
        <button
          type="button"
          className="btn btn-sm btn-square btn-ghost"
          aria-label={t`Folder above`}
          title={t`Folder above`}
          disabled={!listing?.above}
          onClick={() => choose(listing!.above!)}
        >
          <ChevronUp size={16} />
        </button>
        <input
          className="input input-sm min-w-0 flex-1"
          aria-label={t`Folder’s path`}
          name="path"
          value={typed}
          onChange={(e) => setTyped(e.target.value)}
        />
      </form>
      <div className="min-h-0 overflow-auto">
        {problem && (
          <p role="alert" className="text-sm text-error">
            {problem}
          </p>
        )}
        <ul>
          {listing?.folders.map((f) => (
            <li key={f.path}>
              <button
                type="button"
                className="flex w-full cursor-pointer items-center gap-2 rounded px-2 py-1 text-left text-sm hover:bg-base-300"
                onClick={() => choose(f.path)}
              >
                <Folder size={15} className="shrink-0 text-quiet" />
                <span className="truncate">{f.name}</span>
              </button>
            </li>
          ))}
        </ul>
        {listing && listing.folders.length === 0 && (
          <p className="px-2 text-sm text-quiet">{t`No folders in here.`}</p>
        )}
        {listing && listing.roots.length > 1 && (
          <div className="mt-3 grid justify-items-start gap-1">
            {listing.roots.map((r) => (
              <button
                key={r}
                type="button"
                className="btn btn-ghost btn-xs max-w-full"
                onClick={() => choose(r)}
              >
                <span className="truncate">{r}</span>
              </button>
            ))}
          </div>
        )}
      </div>
    </section>
  );
}
