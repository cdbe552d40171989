import { RecipesScreen } from '@/ui/recipes/RecipesScreen';

export const dynamic = 'force-dynamic';

export default function Page() {
  return <RecipesScreen />;
}
