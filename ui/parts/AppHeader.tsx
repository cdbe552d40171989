import Link from 'next/link';
import type { ComponentProps, ComponentType, ReactNode } from 'react';
import { t } from '../words/words';
import { Mark } from './Mark';

type Props = {
  /** The page's name. */
  title: string;
  /** Where one is, in place of the title, which is then read aloud only. */
  place?: ReactNode;
  /** The link home: another one where leaving has to be asked for. */
  link?: ComponentType<ComponentProps<typeof Link> & { href: string }>;
  /** What can be done on the page, at the right. */
  children?: ReactNode;
};

/** The header of every page: the program's name, which leads to the projects, where one is, and what can be done there. */
export function AppHeader({ title, place, link: Home = Link, children }: Props) {
  return (
    <header className="relative flex min-h-11 flex-wrap items-center gap-x-3 gap-y-1 border-b border-line bg-base-100 px-3 py-1">
      <Home
        href="/"
        className="flex min-h-[24px] items-center gap-2 font-semibold"
        title={t`To the projects`}
      >
        <Mark /> {t`Zafiro`}
      </Home>
      <h1 className={place ? 'sr-only' : 'min-w-0 truncate text-sm text-quiet'}>{title}</h1>
      {place}
      <div className="ml-auto flex flex-wrap items-center gap-1">{children}</div>
    </header>
  );
}
