import { whoLooks } from '@/server/access/pages';
import { RecipesScreen } from '@/ui/recipes/RecipesScreen';

export const dynamic = 'force-dynamic';

export default async function Page() {
  await whoLooks();
  return <RecipesScreen />;
}
