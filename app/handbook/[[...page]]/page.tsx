import type { Metadata } from 'next';
import { notFound } from 'next/navigation';
import { handbookPages } from '@/server/handbook/pages';
import { Handbook } from '@/ui/handbook/Handbook';
import { t } from '@/ui/words/words';

export const dynamic = 'force-dynamic';

type At = { params: Promise<{ page?: string[] }> };

const wantedOf = async ({ params }: At) => {
  const path = ((await params).page ?? ['index']).join('/');
  return handbookPages().find((p) => p.path === path || p.path === `${path}/index`);
};

export async function generateMetadata(at: At): Promise<Metadata> {
  return { title: t`${(await wantedOf(at))?.title ?? t`Handbook`} · Zafiro` };
}

export default async function Page(at: At) {
  const page = await wantedOf(at);
  if (!page) notFound();
  return <Handbook page={page} pages={handbookPages()} />;
}
