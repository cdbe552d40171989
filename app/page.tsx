import { whoLooks } from '@/server/access/pages';
import { readShelf } from '@/server/shots/shelf';
import { Shelf } from '@/ui/shelf/Shelf';

export const dynamic = 'force-dynamic';

export default async function Page() {
  return <Shelf initial={await readShelf(await whoLooks())} />;
}
