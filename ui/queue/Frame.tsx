import { QueryClient, QueryClientProvider } from '@tanstack/react-query';
import { ArrowLeft } from 'lucide-react';
import Link from 'next/link';
import { type ReactNode, useState } from 'react';
import { Toaster } from 'sonner';
import { Mark } from '../parts/Mark';
import { t } from '../words/words';

const pages = { '/queue': t`Exports`, '/machines': t`Machines` } as const;

/** What the pages of exports and of machines stand in. */
export function Frame({ page, children }: { page: keyof typeof pages; children: ReactNode }) {
  const [client] = useState(() => new QueryClient({ defaultOptions: { queries: { retry: 1 } } }));
  return (
    <QueryClientProvider client={client}>
      <main className="mx-auto max-w-6xl px-8 pb-16">
        <header className="flex h-16 items-center gap-3">
          <Link
            href="/"
            className="btn btn-ghost btn-sm btn-square"
            aria-label={t`All shots`}
            title={t`All shots`}
          >
            <ArrowLeft size={17} />
          </Link>
          <Mark size={24} />
          <h1 className="text-lg font-semibold tracking-tight">{pages[page]}</h1>
          <nav className="ml-auto flex gap-1" aria-label={t`Pages`}>
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
        </header>
        {children}
      </main>
      <Toaster theme="dark" position="bottom-left" />
    </QueryClientProvider>
  );
}
