import { whoLooks } from '@/server/access/request';
import { projectsSeen } from '@/server/access/rights';
import { readShelf } from '@/server/shots/shelf';
import { Shelf } from '@/ui/shelf/Shelf';

export const dynamic = 'force-dynamic';

export default async function Page() {
  return <Shelf initial={await readShelf(await projectsSeen(await whoLooks()))} />;
}
