import { Check, CloudAlert, History, Layers, LoaderCircle, Redo2, Share, Undo2 } from 'lucide-react';
import Link from 'next/link';
import type { RefObject } from 'react';
import { useStore } from 'zustand';
import type { Autosave } from '@/browser/autosave';
import { type SaveState, useShot, useShotStore } from '@/browser/shot-store';
import type { ShotDetail } from '@/server/shots/shots';
import { AdviceMenu } from './advice/AdviceMenu';
import { FinishMenu } from './FinishMenu';
import { IconButton } from './parts/IconButton';
import { Mark } from './parts/Mark';

type Props = {
  shot: ShotDetail;
  /** The id of the finish that is open. */
  finish: number;
  autosave: RefObject<Autosave | undefined>;
  onExport(): void;
  onHistory(): void;
};

/** Where one is, whether it is saved, undo and redo, and the way out: export. */
export function TopBar({ shot, finish, autosave, onExport, onHistory }: Props) {
  const store = useShotStore();
  const { pastStates, futureStates, undo, redo } = useStore(store.temporal);
  const says = useShot((s) => s.says);
  const save = useShot((s) => s.save);
  const next = futureStates.at(-1)?.says;
  return (
    <header className="flex h-11 items-center gap-2 border-b border-line bg-base-100 px-3">
      <Link href="/" className="flex items-center gap-2 font-semibold" title="To the projects">
        <Mark /> Zafiro
      </Link>
      <nav className="ml-3 flex items-center gap-2 text-sm text-quiet" aria-label="Where you are">
        <span className="truncate">{shot.project}</span>
        <span aria-hidden="true">›</span>
        <span className="truncate">{shot.name}</span>
        <span aria-hidden="true">›</span>
        <FinishMenu shot={shot} finish={finish} />
      </nav>
      <div className="ml-auto flex items-center gap-1">
        <AdviceMenu shot={shot} />
        <Saved save={save} autosave={autosave} />
        <IconButton
          icon={Undo2}
          label={pastStates.length ? `Undo: ${says}` : 'Nothing to undo'}
          keys="Ctrl Z"
          disabled={pastStates.length === 0}
          onClick={() => undo()}
        />
        <IconButton
          icon={Redo2}
          label={next ? `Redo: ${next}` : 'Nothing to redo'}
          keys="Ctrl Shift Z"
          disabled={futureStates.length === 0}
          onClick={() => redo()}
        />
        <IconButton icon={History} label="History" onClick={onHistory} />
        <Link href={`/shots/${shot.id}/passes`} className="btn btn-sm ml-2">
          <Layers size={15} /> Passes
        </Link>
        <button type="button" className="btn btn-primary btn-sm ml-1" onClick={onExport}>
          <Share size={15} /> Export…
        </button>
      </div>
    </header>
  );
}

function Saved({ save, autosave }: { save: SaveState; autosave: RefObject<Autosave | undefined> }) {
  if (save.state === 'conflict') {
    return (
      <div role="alert" data-save="conflict" className="flex items-center gap-2 text-sm text-warning">
        This finish was saved elsewhere meanwhile.
        <button type="button" className="btn btn-xs" onClick={() => autosave.current?.keepMine(save.newest)}>
          Keep mine
        </button>
        <button type="button" className="btn btn-xs" onClick={() => autosave.current?.takeTheirs()}>
          Take the other
        </button>
      </div>
    );
  }
  const looks = {
    saved: { icon: Check, text: 'saved', tone: 'text-quiet' },
    saving: { icon: LoaderCircle, text: 'saving', tone: 'text-quiet' },
    failed: { icon: CloudAlert, text: 'not saved', tone: 'text-error' },
  }[save.state];
  const Icon = looks.icon;
  const why = save.state === 'failed' ? save.why : undefined;
  return (
    <span
      role="status"
      data-save={save.state}
      title={why}
      className={`mr-2 flex items-center gap-1.5 text-sm ${looks.tone}`}
    >
      <Icon size={14} /> {looks.text}
      {why && <span className="max-w-72 truncate">: {why}</span>}
    </span>
  );
}
