import { notFound } from 'next/navigation';
import { shotDetail } from '@/server/shots/shots';
import { PassesScreen } from '@/ui/passes/PassesScreen';

export const dynamic = 'force-dynamic';

export default async function Page({ params }: { params: Promise<{ shot: string }> }) {
  const { shot: id } = await params;
  const shot = /^\d{1,9}$/.test(id) ? await shotDetail(Number(id)) : undefined;
  if (!shot) notFound();
  return <PassesScreen shot={shot} />;
}
