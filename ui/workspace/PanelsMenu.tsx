import { LayoutPanelLeft } from 'lucide-react';
import type { ReactNode } from 'react';
import type { ShotDetail } from '@/api/shots';
import { useShot } from '@/browser/session/store';
import { useSession } from '@/browser/session/use-session';
import { useWorkspace, workspace } from '@/browser/workspace/workspace';
import type { CommandId } from '../keys/commands';
import { useKeyWords } from '../keys/use-command';
import { Dropdown } from '../parts/Dropdown';
import { t } from '../words/words';
import { setArrangement } from './arrangement';
import { usePanels } from './panels-context';
import { openViewerWindow } from './use-mirror';

/** What is done with the panels. */
export function PanelsMenu({ shot }: { shot: ShotDetail }) {
  const { finish } = useSession();
  const { toggle, usual } = usePanels();
  const change = useShot((s) => s.change);
  const builds = useWorkspace((w) => w.arrangement === 'build');
  const ribbonFolded = useWorkspace((w) => w.ribbonFolded);
  return (
    <Dropdown
      summary={
        <summary className="btn btn-ghost btn-sm btn-square" aria-label={t`Panels`} title={t`Panels`}>
          <LayoutPanelLeft size={16} aria-hidden="true" />
        </summary>
      }
    >
      <ul
        className="dropdown-content z-30 mt-1 w-64 rounded-box border border-line bg-base-200 p-1.5 text-[13px] shadow-lg"
        aria-label={t`Panels`}
      >
        <Item command="arrangement" onClick={setArrangement}>
          {builds ? t`Viewer in the middle` : t`Board in the middle`}
        </Item>
        <Item command="theatre" onClick={() => change({ theatre: true })}>
          {t`Theatre`}
        </Item>
        <Item command="window" onClick={() => openViewerWindow(shot.id, finish)}>
          {t`Viewer in a window of its own`}
        </Item>
        <Item onClick={() => toggle('stage', 'board')}>{t`Fold, unfold the board`}</Item>
        <Item onClick={() => toggle('screen', 'sheet')}>{t`Fold, unfold the step sheet`}</Item>
        <Item onClick={() => workspace.setState({ ribbonFolded: !ribbonFolded })}>
          {ribbonFolded ? t`Unfold the frames` : t`Fold the frames`}
        </Item>
        <Item onClick={usual}>{t`Usual sizes`}</Item>
      </ul>
    </Dropdown>
  );
}

function Item({ command, onClick, children }: { command?: CommandId; onClick(): void; children: ReactNode }) {
  return (
    <li>
      <button
        type="button"
        className="flex w-full cursor-pointer items-center rounded px-2 py-1 text-left hover:bg-base-300"
        onClick={onClick}
      >
        {children}
        {command && <KeyMark command={command} />}
      </button>
    </li>
  );
}

function KeyMark({ command }: { command: CommandId }) {
  return <kbd className="kbd kbd-xs ml-auto">{useKeyWords(command)}</kbd>;
}
