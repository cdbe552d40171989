import { QueryClient, QueryClientProvider } from '@tanstack/react-query';
import { ArrowLeft } from 'lucide-react';
import Link from 'next/link';
import { type ReactNode, useState } from 'react';
import { Toaster } from 'sonner';
import { Mark } from '../parts/Mark';
import { t } from '../words/words';

const pages = { '/account': t`Account`, '/people': t`People`, '/record': t`Record` } as const;

/** What the pages of accounts stand in; those of administrators are seen by them alone. */
export function AccessFrame({
  page,
  isAdmin,
  children,
}: {
  page: keyof typeof pages;
  isAdmin: boolean;
  children: ReactNode;
}) {
  const [client] = useState(() => new QueryClient({ defaultOptions: { queries: { retry: 1 } } }));
  return (
    <QueryClientProvider client={client}>
      <main className="mx-auto max-w-5xl px-8 pb-16 text-sm">
        <header className="flex h-16 items-center gap-3">
          <Link href="/" className="btn btn-ghost btn-sm btn-square" aria-label={t`To the projects`}>
            <ArrowLeft size={17} />
          </Link>
          <Mark size={24} />
          <h1 className="text-lg font-semibold tracking-tight">{pages[page]}</h1>
          {isAdmin && (
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
          )}
        </header>
        {children}
      </main>
      <Toaster theme="dark" position="bottom-left" />
    </QueryClientProvider>
  );
}

/** A part of such a page. */
export const Part = ({ title, words, children }: { title: string; words?: string; children: ReactNode }) => (
  <section className="mt-6 grid gap-3 border-t border-line pt-5 md:grid-cols-[15rem_minmax(0,1fr)]">
    <div>
      <h2 className="font-semibold">{title}</h2>
      {words && <p className="mt-1 text-xs text-quiet">{words}</p>}
    </div>
    <div className="grid content-start gap-3">{children}</div>
  </section>
);
