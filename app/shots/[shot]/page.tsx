import { notFound } from 'next/navigation';
import { loadFinish } from '@/server/shots/finishes';
import { shotDetail } from '@/server/shots/shots';
import { ShotScreen } from '@/ui/ShotScreen';

export const dynamic = 'force-dynamic';

export default async function Page({ params }: { params: Promise<{ shot: string }> }) {
  const { shot: id } = await params;
  const shot = /^\d{1,9}$/.test(id) ? await shotDetail(Number(id)) : undefined;
  if (!shot || shot.finishes.length === 0) notFound();
  const saved = await loadFinish(shot.finishes[0].id);
  if (!saved) notFound();
  return <ShotScreen shot={shot} saved={saved} />;
}
