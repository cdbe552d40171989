import type { ReactNode } from 'react';
import { PageFrame } from '../parts/PageFrame';
import { t } from '../words/words';

const pages = { '/queue': t`Exports`, '/machines': t`Machines` } as const;

/** What the pages of exports and of machines stand in. */
export const Frame = ({ page, children }: { page: keyof typeof pages; children: ReactNode }) => (
  <PageFrame page={page} pages={pages}>
    {children}
  </PageFrame>
);
