import { Telescope } from 'lucide-react';
import Link from 'next/link';
import { connection } from 'next/server';
import { State } from '@/ui/parts/State';
import { t } from '@/ui/words/words';

/** Made for each request: a page that was made beforehand has scripts without the nonce of its answer, which the browser then blocks. */
export default async function NotFound() {
  await connection();
  return (
    <main className="grid min-h-dvh place-content-center">
      <State
        is="empty"
        whole
        icon={Telescope}
        title={t`Nothing is here`}
        words={t`The shot was removed, or the address is mistyped.`}
      >
        <Link href="/" className="btn btn-primary">
          {t`To the projects`}
        </Link>
      </State>
    </main>
  );
}
