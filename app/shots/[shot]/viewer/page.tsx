import { notFound } from 'next/navigation';
import { whoLooksAt } from '@/server/access/pages';
import { shotDetail } from '@/server/shots/shots';
import { ViewerWindow } from '@/ui/viewer/ViewerWindow';

export const dynamic = 'force-dynamic';

type At = { params: Promise<{ shot: string }>; searchParams: Promise<{ finish?: string }> };

/** The viewer of a finish that is open in another window. */
export default async function Page({ params, searchParams }: At) {
  const { shot: id } = await params;
  await whoLooksAt(id);
  const { finish } = await searchParams;
  const shot = /^\d{1,9}$/.test(id) ? await shotDetail(Number(id)) : undefined;
  const open = shot?.finishes.find((f) => String(f.id) === finish);
  if (!shot || !open) notFound();
  const full = { width: shot.width, height: shot.height };
  return <ViewerWindow finish={open.id} name={shot.name} full={full} />;
}
