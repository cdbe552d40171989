import Link from 'next/link';
import { t } from '../words/words';

/** To the page of the handbook that tells more, beside the work. */
export const HandbookLink = ({ page, of }: { page: string; of: string }) => (
  <Link
    href={`/handbook/${page}`}
    target="_blank"
    className="link shrink-0 text-xs"
    aria-label={t`${of} in the handbook`}
  >
    {t`Handbook`}
  </Link>
);
