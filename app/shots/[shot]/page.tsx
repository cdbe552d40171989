import { notFound } from 'next/navigation';
import { whoLooksAt } from '@/server/access/pages';
import { looksOnly } from '@/server/access/rights';
import { shotDetail } from '@/server/shots/shots';
import { ShotScreen } from '@/ui/ShotScreen';

export const dynamic = 'force-dynamic';

type At = { params: Promise<{ shot: string }>; searchParams: Promise<{ finish?: string }> };

/** A shot's first finish, or the one that the address asks for (`?finish=`). The page fetches the document itself: the newest there is. */
export default async function Page({ params, searchParams }: At) {
  const { shot: id } = await params;
  const who = await whoLooksAt(id);
  const { finish } = await searchParams;
  const shot = /^\d{1,9}$/.test(id) ? await shotDetail(Number(id)) : undefined;
  if (!shot || shot.finishes.length === 0) notFound();
  const wanted = shot.finishes.find((f) => String(f.id) === finish) ?? shot.finishes[0];
  const looks = await looksOnly(shot.id, who);
  return <ShotScreen key={wanted.id} shot={{ ...shot, looksOnly: looks }} finish={wanted.id} />;
}
