import Link from 'next/link';
import { t } from '@/ui/words/words';

export default function NotFound() {
  return (
    <main className="grid min-h-dvh place-content-center gap-3 text-center">
      <h1 className="text-xl font-semibold">{t`Nothing is here`}</h1>
      <p className="text-quiet">{t`The shot was removed, or the address is mistyped.`}</p>
      <Link href="/" className="btn btn-primary">
        {t`To the projects`}
      </Link>
    </main>
  );
}
