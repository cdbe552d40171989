import { notFound } from 'next/navigation';
import { whoLooksAt } from '@/server/access/pages';
import { looksOnly } from '@/server/access/rights';
import { shotDetail } from '@/server/shots/shots';
import { PassesScreen } from '@/ui/passes/PassesScreen';

export const dynamic = 'force-dynamic';

type At = { params: Promise<{ shot: string }>; searchParams: Promise<{ finish?: string }> };

export default async function Page({ params, searchParams }: At) {
  const { shot: id } = await params;
  const who = await whoLooksAt(id);
  const { finish } = await searchParams;
  const shot = /^\d{1,9}$/.test(id) ? await shotDetail(Number(id)) : undefined;
  if (!shot) notFound();
  const from = shot.finishes.find((f) => String(f.id) === finish)?.id;
  return <PassesScreen shot={{ ...shot, looksOnly: await looksOnly(shot.id, who) }} finish={from} />;
}
