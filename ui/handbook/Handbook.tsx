'use client';

import { ArrowLeft, Search } from 'lucide-react';
import Link from 'next/link';
import { useMemo, useState } from 'react';
import Markdown from 'react-markdown';
import remarkGfm from 'remark-gfm';
import { AppHeader } from '../parts/AppHeader';
import { t } from '../words/words';
import { found, type Page, passageOf } from './search';

type Props = { page: Page; pages: readonly Page[] };

const addressOf = (path: string) =>
  path === 'index' ? '/handbook' : `/handbook/${path.replace(/\/index$/, '')}`;

/** Where a link of a page leads: to another page, to a picture, or out. */
function targetOf(from: string, link: string): string {
  if (/^[a-z]+:/.test(link) || link.startsWith('#')) return link;
  const parts = from.split('/').slice(0, -1);
  for (const part of link.split('/')) {
    if (part === '..') parts.pop();
    else if (part !== '.') parts.push(part);
  }
  const path = parts.join('/');
  return path.startsWith('pictures/')
    ? `/handbook-pictures/${path.slice('pictures/'.length)}`
    : addressOf(path.replace(/\.md$/, ''));
}

/** The handbook: its chapters at the side, a search over all of it, and a page. */
export function Handbook({ page, pages }: Props) {
  const [words, setWords] = useState('');
  const hits = useMemo(() => found(pages, words), [pages, words]);
  const part = (title: string, own: readonly Page[]) => (
    <section className="mt-4" aria-label={title}>
      <h2 className="mb-1 px-2 text-xs font-semibold text-quiet">{title}</h2>
      <ul>
        {own.map((p) => (
          <li key={p.path}>
            <Link
              href={addressOf(p.path)}
              aria-current={p.path === page.path ? 'page' : undefined}
              className={`block min-h-[24px] rounded px-2 py-0.5 hover:bg-base-300 ${p.path === page.path ? 'bg-base-300 text-primary' : ''}`}
            >
              {p.title}
            </Link>
          </li>
        ))}
      </ul>
    </section>
  );
  return (
    <div className="grid h-dvh grid-cols-[16rem_minmax(0,1fr)] grid-rows-[auto_minmax(0,1fr)] text-sm max-sm:grid-cols-1">
      <div className="col-span-full">
        <AppHeader title={t`Handbook`}>
          <Link href="/" className="btn btn-ghost btn-sm">
            <ArrowLeft size={15} aria-hidden="true" /> {t`Projects`}
          </Link>
        </AppHeader>
      </div>
      <nav
        className="min-h-0 overflow-y-auto border-r border-line bg-base-200 p-3 text-[13px] max-sm:hidden"
        aria-label={t`Handbook`}
      >
        <label className="input input-sm w-full">
          <Search size={14} aria-hidden="true" />
          <input
            type="search"
            aria-label={t`Search the handbook`}
            placeholder={t`Search`}
            value={words}
            onChange={(e) => setWords(e.target.value)}
          />
        </label>
        {words.trim() === '' ? (
          <>
            {part(
              t`Chapters`,
              pages.filter((p) => !p.path.includes('/')),
            )}
            {part(
              t`Jobs from start to end`,
              pages.filter((p) => p.path.startsWith('jobs/')),
            )}
            {part(
              t`Steps`,
              pages.filter((p) => p.path.startsWith('steps/')),
            )}
          </>
        ) : (
          <ul className="mt-3 grid gap-2" aria-label={t`Found`}>
            {hits.map((p) => (
              <li key={p.path}>
                <Link href={addressOf(p.path)} className="block rounded px-2 py-1 hover:bg-base-300">
                  <b>{p.title}</b>
                  <span className="line-clamp-2 text-xs text-quiet">{passageOf(p, words)}</span>
                </Link>
              </li>
            ))}
            {hits.length === 0 && <li className="px-2 text-quiet">{t`No match.`}</li>}
          </ul>
        )}
      </nav>
      <main
        // biome-ignore lint/a11y/noNoninteractiveTabindex: a long page is scrolled by keyboard
        tabIndex={0}
        className="min-h-0 overflow-y-auto outline-none"
        key={page.path}
      >
        <article className="handbook mx-auto max-w-3xl px-8 pt-6 pb-20">
          <Markdown
            remarkPlugins={[remarkGfm]}
            components={{
              a: ({ href = '', children }) => <Link href={targetOf(page.path, href)}>{children}</Link>,
              img: ({ src, alt }) => (
                <img src={targetOf(page.path, String(src))} alt={alt ?? ''} loading="lazy" />
              ),
            }}
          >
            {page.text}
          </Markdown>
        </article>
      </main>
    </div>
  );
}
