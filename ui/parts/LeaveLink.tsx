import Link from 'next/link';
import { useRouter } from 'next/navigation';
import { type ComponentProps, useState } from 'react';
import { useShotStore } from '@/browser/session/store';
import { useSession } from '@/browser/session/use-session';
import { t } from '../words/words';
import { Modal } from './Modal';

/**
 * A link that leads away from the document. What waits is saved on the way; where the server refuses it, leaving is asked for first: the edits stay
 * in this window until it is closed, but nowhere else.
 */
export function LeaveLink({ href, ...rest }: ComponentProps<typeof Link> & { href: string }) {
  const { autosave } = useSession();
  const store = useShotStore();
  const router = useRouter();
  const [asking, setAsking] = useState('');
  return (
    <>
      <Link
        {...rest}
        href={href}
        onNavigate={(event) => {
          const { save } = store.getState();
          if (autosave.isClean() || save.state === 'saving' || save.state === 'saved') return;
          event.preventDefault();
          setAsking(save.state === 'failed' ? save.why : t`This finish was saved elsewhere in the meantime.`);
        }}
      />
      {asking && (
        <Modal label={t`Not saved`} box="w-md" onClose={() => setAsking('')}>
          <h2 className="text-lg font-semibold">{t`The last edits are not saved`}</h2>
          <p className="mt-2 text-sm">{asking}</p>
          <p className="mt-2 text-sm text-quiet">
            {t`They are kept in this window. Return to the shot to continue. Closing the window loses them.`}
          </p>
          <div className="mt-4 flex justify-end gap-2">
            <button type="button" className="btn btn-sm btn-primary" onClick={() => setAsking('')}>
              {t`Stay`}
            </button>
            <button type="button" className="btn btn-sm" onClick={() => router.push(href)}>
              {t`Leave`}
            </button>
          </div>
        </Modal>
      )}
    </>
  );
}
