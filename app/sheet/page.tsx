import { whoLooks } from '@/server/access/pages';
import { readShelf } from '@/server/shots/shelf';
import { ContactSheet } from '@/ui/contact/ContactSheet';
import { t } from '@/ui/words/words';

export const dynamic = 'force-dynamic';

/** The contact sheet of all shots, or of those of a project (`?project=`). */
export default async function Page({ searchParams }: { searchParams: Promise<{ project?: string }> }) {
  const { project } = await searchParams;
  const all = (await readShelf(await whoLooks())).projects.filter((p) => !p.archived);
  const found = all.find((p) => String(p.id) === project);
  const shots = (found ? [found] : all).flatMap((p) => p.shots.filter((s) => !s.archived).map((s) => s.id));
  return <ContactSheet name={found?.name ?? t`All shots`} shots={shots} />;
}
