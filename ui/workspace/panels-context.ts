import { createContext, useContext } from 'react';

type Arranged = { usual(): void; toggle(group: 'screen' | 'stage', panel: string): void };

/** What can be done with the panels, for menus. */
export const PanelsContext = createContext<Arranged | null>(null);
export const usePanels = () => useContext(PanelsContext)!;
