import { CircleAlert, LoaderCircle, type LucideIcon } from 'lucide-react';
import type { ReactNode } from 'react';

type Props = {
  /** Why there is nothing else to see. */
  is: 'empty' | 'loading' | 'failed';
  title: string;
  /** It is all of its page, whose first heading its title is. */
  whole?: boolean;
  icon?: LucideIcon;
  /** What it means, and what to do about it. */
  words?: ReactNode;
  /** Ways on. */
  children?: ReactNode;
};

/** What stands on a screen, or in a panel, that has nothing to show: nothing is there yet, it is on its way, or it could not be had. */
export function State({ is, title, whole, icon, words, children }: Props) {
  const Heading = whole ? 'h1' : 'h2';
  const Icon = icon ?? (is === 'failed' ? CircleAlert : LoaderCircle);
  return (
    <section
      className="mx-auto grid max-w-lg justify-items-center gap-3 px-6 py-16 text-center"
      data-state={is}
      role={is === 'failed' ? 'alert' : is === 'loading' ? 'status' : undefined}
      aria-busy={is === 'loading' || undefined}
    >
      <Icon
        size={is === 'loading' ? 24 : 36}
        aria-hidden="true"
        className={`${is === 'failed' ? 'text-error' : 'text-quiet'} ${is === 'loading' ? 'motion-safe:animate-spin' : ''}`}
      />
      {is === 'loading' ? (
        <p className="text-sm text-quiet">{title}</p>
      ) : (
        <Heading className="text-lg font-semibold text-balance">{title}</Heading>
      )}
      {words && <p className="text-sm text-balance text-quiet">{words}</p>}
      {children && <div className="mt-1 flex flex-wrap justify-center gap-2">{children}</div>}
    </section>
  );
}
