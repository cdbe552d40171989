import {
  Check,
  CloudAlert,
  CloudOff,
  Eye,
  History,
  Keyboard,
  Layers,
  LoaderCircle,
  Redo2,
  Share,
  Undo2,
} from 'lucide-react';
import { toast } from 'sonner';
import type { ShotDetail } from '@/api/shots';
import { useShot } from '@/browser/session/store';
import { useSession } from '@/browser/session/use-session';
import { AdviceMenu } from './advice/AdviceMenu';
import { FinishMenu } from './FinishMenu';
import { AppHeader } from './parts/AppHeader';
import { IconButton } from './parts/IconButton';
import { LeaveLink } from './parts/LeaveLink';
import { t } from './words/words';
import { PanelsMenu } from './workspace/PanelsMenu';

type Props = {
  shot: ShotDetail;
  /** The server does not answer just now. */
  away: boolean;
  onExport(): void;
  onHistory(): void;
  onKeys(): void;
};

/** Location, save state, undo and redo, and export. */
export function TopBar({ shot, away, onExport, onHistory, onKeys }: Props) {
  const { finish } = useSession();
  const { past, future } = useShot((s) => s.history);
  const undo = useShot((s) => s.undo);
  const redo = useShot((s) => s.redo);
  const [last, next] = [past.at(-1)?.label, future.at(-1)?.label];
  return (
    <AppHeader
      title={t`${shot.name} of ${shot.project}`}
      link={LeaveLink}
      place={
        <nav className="flex min-w-0 items-center gap-2 text-sm text-quiet" aria-label={t`Location`}>
          <span className="truncate max-[860px]:hidden">{shot.project}</span>
          <span className="max-[860px]:hidden" aria-hidden="true">
            ›
          </span>
          <span className="truncate">{shot.name}</span>
          <span aria-hidden="true">›</span>
          <FinishMenu shot={shot} />
        </nav>
      }
    >
      <AdviceMenu shot={shot} />
      <Saved away={away} />
      <IconButton
        icon={Undo2}
        label={last === undefined ? t`Nothing to undo` : t`Undo: ${last}`}
        keys="Ctrl Z"
        disabled={last === undefined}
        onClick={() => undo()}
      />
      <IconButton
        icon={Redo2}
        label={next === undefined ? t`Nothing to redo` : t`Redo: ${next}`}
        keys="Ctrl Shift Z"
        disabled={next === undefined}
        onClick={() => redo()}
      />
      <IconButton icon={History} label={t`History`} onClick={onHistory} />
      <PanelsMenu shot={shot} />
      <IconButton icon={Keyboard} label={t`Keys`} keys="?" onClick={onKeys} />
      <LeaveLink href={`/shots/${shot.id}/passes?finish=${finish}`} className="btn btn-sm ml-2">
        <Layers size={15} aria-hidden="true" /> <span className="max-[860px]:sr-only">{t`Passes`}</span>
      </LeaveLink>
      <button type="button" className="btn btn-primary btn-sm ml-1" onClick={onExport}>
        <Share size={15} /> {t`Export…`}
      </button>
    </AppHeader>
  );
}

/** Save state of the last edit, and the remedy if it could not be saved. */
function Saved({ away }: { away: boolean }) {
  const save = useShot((s) => s.save);
  const undo = useShot((s) => s.undo);
  const looksOnly = useShot((s) => s.looksOnly);
  const { autosave } = useSession();
  const failed = (error: Error) => toast.error(error.message);
  if (save.state === 'conflict') {
    return (
      <div role="alert" data-save="conflict" className="flex items-center gap-2 text-sm text-warning">
        {t`This finish was saved elsewhere in the meantime.`}
        <button type="button" className="btn btn-xs" onClick={() => autosave.keepMine(save.newest)}>
          {t`Keep mine`}
        </button>
        <button type="button" className="btn btn-xs" onClick={() => autosave.takeTheirs().catch(failed)}>
          {t`Take the other`}
        </button>
      </div>
    );
  }
  if (save.state === 'failed') {
    return (
      <div
        role={save.lasting ? 'alert' : 'status'}
        data-save="failed"
        data-lasting={save.lasting}
        title={save.why}
        className="flex min-w-0 items-center gap-2 text-sm text-error"
      >
        <CloudAlert size={14} className="shrink-0" />
        <span className="max-w-80 truncate">{t`not saved: ${save.why}`}</span>
        {save.lasting ? (
          <button type="button" className="btn btn-xs" onClick={undo}>
            {t`Undo the edit`}
          </button>
        ) : (
          <button type="button" className="btn btn-xs" onClick={() => autosave.flush()}>
            {t`Now`}
          </button>
        )}
      </div>
    );
  }
  if (looksOnly)
    return (
      <span
        role="status"
        data-save="looks"
        title={t`You may look at this project, not change it. Ask somebody who manages it.`}
        className="mr-2 flex items-center gap-1.5 text-sm whitespace-nowrap text-quiet"
      >
        <Eye size={14} /> {t`looking only`}
      </span>
    );
  const Icon = save.state === 'saving' ? LoaderCircle : away ? CloudOff : Check;
  return (
    <span
      role="status"
      data-save={save.state}
      title={away ? t`What arrives is shown once the server answers again.` : undefined}
      className="mr-2 flex items-center gap-1.5 text-sm whitespace-nowrap text-quiet"
    >
      <Icon size={14} /> {save.state}
      {away && save.state === 'saved' && t`, server away`}
    </span>
  );
}
