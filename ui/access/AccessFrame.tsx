import type { ReactNode } from 'react';
import { PageFrame } from '../parts/PageFrame';
import { t } from '../words/words';

const pages = { '/account': t`Account`, '/people': t`People`, '/record': t`Record` } as const;

type Props = { page: keyof typeof pages; isAdmin: boolean; children: ReactNode };

/** What the pages of accounts stand in; those of administrators are seen by them alone. */
export const AccessFrame = ({ page, isAdmin, children }: Props) => (
  <PageFrame page={page} pages={pages} alone={!isAdmin} width="max-w-5xl text-sm">
    {children}
  </PageFrame>
);

/** A part of such a page. */
export const Part = ({ title, words, children }: { title: string; words?: string; children: ReactNode }) => (
  <section className="mt-6 grid gap-3 border-t border-line pt-5 md:grid-cols-[15rem_minmax(0,1fr)]">
    <div>
      <h2 className="font-semibold">{title}</h2>
      {words && <p className="mt-1 text-xs text-quiet">{words}</p>}
    </div>
    <div className="grid min-w-0 content-start gap-3">{children}</div>
  </section>
);
