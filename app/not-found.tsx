import { Telescope } from 'lucide-react';
import Link from 'next/link';
import { State } from '@/ui/parts/State';
import { t } from '@/ui/words/words';

export default function NotFound() {
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
