import type { ReactNode } from 'react';
import { Group, Panel, Separator } from 'react-resizable-panels';
import { useShot } from '@/browser/session/store';
import { t } from '../words/words';
import { PanelsContext } from './panels-context';
import { useArranged, useNarrow } from './use-arranged';

type Props = {
  top: ReactNode;
  board: ReactNode;
  viewer: ReactNode;
  sheet: ReactNode;
  drawer: ReactNode;
  ribbon: ReactNode;
};

const across =
  'group relative bg-line outline-none focus-visible:bg-primary hover:bg-primary data-[separator=active]:bg-primary';

/** The panels of the shot screen: resized by their edges, folded, and remembered; in theatre the viewer alone. */
export function Panels({ top, board, viewer, sheet, drawer, ribbon }: Props) {
  const theatre = useShot((s) => s.theatre);
  const narrow = useNarrow();
  const arranged = useArranged(narrow);
  return (
    <PanelsContext.Provider value={arranged}>
      <div className={`flex h-dvh flex-col overflow-hidden ${theatre ? 'theatre' : ''}`}>
        {top}
        <main className="min-h-0 flex-1">
          <Group orientation="vertical" id="work">
            <Panel id="panels" data-testid="panel-panels" minSize="180px">
              <Group
                orientation="horizontal"
                id="screen"
                groupRef={arranged.groups.screen}
                defaultLayout={arranged.sizesOf('screen')}
                onLayoutChanged={arranged.keep('screen')}
              >
                <Panel id="stage" data-testid="panel-stage" minSize="240px">
                  <Group
                    orientation={narrow ? 'vertical' : 'horizontal'}
                    id="stage-panels"
                    groupRef={arranged.groups.stage}
                    defaultLayout={arranged.sizesOf('stage')}
                    onLayoutChanged={arranged.keep('stage')}
                  >
                    <Panel
                      id="board"
                      data-testid="panel-board"
                      className="bg-base-200"
                      collapsible
                      minSize="150px"
                    >
                      {board}
                    </Panel>
                    <Separator
                      id="edge-of-board"
                      aria-label={t`Edge of the board`}
                      className={`${across} ${narrow ? 'h-[3px]' : 'w-[3px]'}`}
                    />
                    <Panel id="viewer" data-testid="panel-viewer" className="bg-[#161616]" minSize="200px">
                      {viewer}
                    </Panel>
                  </Group>
                </Panel>
                <Separator
                  id="edge-of-sheet"
                  aria-label={t`Edge of the step sheet`}
                  className={`${across} w-[3px]`}
                />
                <Panel
                  id="sheet"
                  data-testid="panel-sheet"
                  className="bg-base-100"
                  collapsible
                  minSize="276px"
                >
                  {sheet}
                </Panel>
              </Group>
            </Panel>
            {drawer && (
              <Separator
                id="edge-of-drawer"
                aria-label={t`Edge of the time drawer`}
                className={`${across} h-[3px]`}
              />
            )}
            {drawer && (
              <Panel id="drawer" data-testid="panel-drawer" defaultSize="240px" minSize="120px">
                {drawer}
              </Panel>
            )}
          </Group>
        </main>
        <footer className="border-t border-line bg-base-100" id="ribbon">
          {ribbon}
        </footer>
      </div>
    </PanelsContext.Provider>
  );
}
