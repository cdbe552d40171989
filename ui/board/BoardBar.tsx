import {
  Filter,
  Maximize,
  PanelLeft,
  PanelLeftClose,
  Plus,
  Search,
  Waypoints,
  ZoomIn,
  ZoomOut,
} from 'lucide-react';
import { useStore } from 'zustand';
import { useShot } from '@/browser/session/store';
import { useWorkspace } from '@/browser/workspace/workspace';
import type { CommandId } from '../keys/commands';
import { useKeyWords } from '../keys/use-command';
import { t } from '../words/words';
import { setArrangement } from '../workspace/arrangement';
import type { BoardView } from './board-view';

type Props = { view: BoardView; onStrand(): void; onSearch(): void; onLinks(): void };

/** How the board is looked at, along its lower edge. */
export function BoardBar({ view, onStrand, onSearch, onLinks }: Props) {
  const k = useStore(view.seen, (s) => Math.round(s.k * 100));
  const feedsOnly = useShot((s) => s.feedsOnly);
  const looksOnly = useShot((s) => s.looksOnly);
  const change = useShot((s) => s.change);
  const builds = useWorkspace((w) => w.arrangement === 'build');
  return (
    <div
      className="absolute inset-x-0 bottom-0 flex h-8 items-center gap-0.5 border-t border-line bg-base-200 px-1 text-xs text-quiet"
      role="toolbar"
      aria-label={t`Board`}
    >
      {!looksOnly && <Tool command="add-strand" icon={Plus} label={t`Add a strand`} onClick={onStrand} />}
      <Tool command="fit-board" icon={Maximize} label={t`Fit all strands`} onClick={view.fit} />
      <Tool command="board-smaller" icon={ZoomOut} label={t`Smaller`} onClick={() => view.zoomBy(1 / 1.25)} />
      <button
        type="button"
        className="w-10 cursor-pointer text-center tabular-nums hover:text-base-content"
        title={t`Board at 100 %`}
        data-testid="board-scale"
        onClick={view.fullSize}
      >
        {k} %
      </button>
      <Tool command="board-larger" icon={ZoomIn} label={t`Larger`} onClick={() => view.zoomBy(1.25)} />
      <Tool
        command="feeds"
        icon={Filter}
        label={t`Only what feeds this`}
        pressed={feedsOnly}
        onClick={() => change({ feedsOnly: !feedsOnly })}
      />
      <Tool command="links" icon={Waypoints} label={t`Links of this`} onClick={onLinks} />
      <Tool command="search" icon={Search} label={t`Search the board`} onClick={onSearch} />
      <span className="ml-auto" />
      <Tool
        command="arrangement"
        icon={builds ? PanelLeftClose : PanelLeft}
        label={builds ? t`Give the middle to the viewer` : t`Give the middle to the board`}
        onClick={setArrangement}
      />
    </div>
  );
}

type ToolProps = {
  command: CommandId;
  icon: typeof Filter;
  label: string;
  pressed?: boolean;
  onClick(): void;
};

function Tool({ command, icon: Icon, label, pressed, onClick }: ToolProps) {
  const keys = useKeyWords(command);
  return (
    <button
      type="button"
      className={`btn btn-ghost btn-xs btn-square ${pressed ? 'btn-active text-primary' : ''}`}
      aria-label={label}
      aria-pressed={pressed}
      title={`${label} (${keys})`}
      onClick={onClick}
    >
      <Icon size={14} />
    </button>
  );
}
