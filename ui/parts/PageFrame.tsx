import { QueryClient, QueryClientProvider } from '@tanstack/react-query';
import Link from 'next/link';
import { type ReactNode, useState } from 'react';
import { Toaster } from 'sonner';
import { t } from '../words/words';
import { AppHeader } from './AppHeader';

type Props = {
  page: string;
  /** Names of the pages that belong together, by their addresses. */
  pages: Readonly<Record<string, string>>;
  /** Without ways to the others. */
  alone?: boolean;
  width?: string;
  children: ReactNode;
};

/** What pages beside the shot screen stand in: the way back, their title, and the ways to their neighbours. */
export function PageFrame({ page, pages, alone = false, width = 'max-w-6xl', children }: Props) {
  const [client] = useState(() => new QueryClient({ defaultOptions: { queries: { retry: 1 } } }));
  return (
    <QueryClientProvider client={client}>
      <AppHeader title={pages[page]}>
        {!alone && (
          <nav className="flex gap-1" aria-label={t`Pages`}>
            {Object.entries(pages).map(([href, name]) => (
              <Link
                key={href}
                href={href}
                aria-current={href === page ? 'page' : undefined}
                className={`btn btn-sm font-normal ${href === page ? 'btn-soft btn-primary' : 'btn-ghost'}`}
              >
                {name}
              </Link>
            ))}
          </nav>
        )}
      </AppHeader>
      <main className={`mx-auto ${width} px-8 pt-4 pb-16`}>{children}</main>
      <Toaster theme="dark" position="bottom-left" />
    </QueryClientProvider>
  );
}
