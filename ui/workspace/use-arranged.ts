import { useEffect, useRef, useState } from 'react';
import { type GroupImperativeHandle, type Layout, useGroupRef } from 'react-resizable-panels';
import { type Arrangement, useWorkspace, workspace } from '@/browser/workspace/workspace';

/** Below this width, in CSS pixels, and in a window that is higher than wide, the board stands above the viewer. */
const narrowBelow = 860;

/** True in a window of half a screen, or upright. */
export function useNarrow(): boolean {
  const query = `(max-width: ${narrowBelow - 1}px), (max-aspect-ratio: 1/1)`;
  const [narrow, setNarrow] = useState(() => matchMedia(query).matches);
  useEffect(() => {
    const list = matchMedia(query);
    const changed = () => setNarrow(list.matches);
    list.addEventListener('change', changed);
    return () => list.removeEventListener('change', changed);
  }, [query]);
  return narrow;
}

const clamp = (low: number, x: number, high: number) => Math.max(low, Math.min(high, x));

/** Sizes of the sheet and, beside or above the viewer, of the board, in percent, for a window of that width. */
function usualSizes(width: number, arrangement: Arrangement, narrow: boolean) {
  const sheet = clamp(270, width * 0.2, 480);
  const rest = width - sheet;
  const board = narrow
    ? arrangement === 'build'
      ? 62
      : 40
    : arrangement === 'build'
      ? 100 - (clamp(300, rest * 0.3, 900) / rest) * 100
      : (clamp(300, width * 0.24, 900) / rest) * 100;
  const share = (sheet / width) * 100;
  return {
    screen: { stage: 100 - share, sheet: share },
    stage: { board, viewer: 100 - board },
  };
}

/**
 * The two groups of panels: sizes that were set are kept for each arrangement, and taken again when it comes back.
 * `usual` brings back the sizes that the program would give them.
 */
export function useArranged(narrow: boolean) {
  const arrangement = useWorkspace((w) => w.arrangement);
  const groups = { screen: useGroupRef(), stage: useGroupRef() };
  const nameOf = (group: keyof typeof groups) =>
    group === 'screen' ? group : `${group}/${arrangement}${narrow ? '/narrow' : ''}`;
  const sizesOf = (group: keyof typeof groups): Layout =>
    workspace.getState().layouts[nameOf(group)] ?? usualSizes(window.innerWidth, arrangement, narrow)[group];
  const set = (handle: GroupImperativeHandle | null, group: keyof typeof groups) =>
    handle?.setLayout(sizesOf(group));
  const first = useRef(true);
  // biome-ignore lint/correctness/useExhaustiveDependencies: when the arrangement changes, and only then
  useEffect(() => {
    if (first.current) first.current = false;
    else set(groups.stage.current, 'stage');
  }, [arrangement, narrow]);
  return {
    groups,
    sizesOf,
    keep: (group: keyof typeof groups) => (layout: Layout, meta: { isUserInteraction: boolean }) => {
      if (meta.isUserInteraction) keepLayout(nameOf(group), layout);
    },
    usual: () => {
      workspace.setState({ layouts: {}, ribbonFolded: false });
      set(groups.screen.current, 'screen');
      set(groups.stage.current, 'stage');
    },
    /** Folds a side panel, or unfolds it. */
    toggle: (group: keyof typeof groups, panel: string) => {
      const handle = groups[group].current;
      if (!handle) return;
      const sizes = handle.getLayout();
      const other = Object.keys(sizes).find((id) => id !== panel)!;
      const open = sizes[panel] === 0 ? usualSizes(window.innerWidth, arrangement, narrow)[group] : undefined;
      const next: Layout = open ?? { [panel]: 0, [other]: 100 };
      keepLayout(nameOf(group), handle.setLayout(next));
    },
  };
}

const keepLayout = (name: string, layout: Layout) =>
  workspace.setState(({ layouts }) => ({ layouts: { ...layouts, [name]: layout } }));
