import type { RecipeWords } from '@/core/recipes/recipe';
import { t } from '../words/words';

type TypedWords = Omit<RecipeWords, 'tags'> & { tags: string };

export const typedWords = (name: string, from: Partial<RecipeWords> = {}): TypedWords => ({
  name,
  description: from.description ?? '',
  tags: (from.tags ?? []).join(', '),
  licence: from.licence ?? '',
});

export const wordsTyped = ({ tags, ...rest }: TypedWords): RecipeWords => ({
  ...rest,
  name: rest.name.trim(),
  tags: tags
    .split(',')
    .map((t) => t.trim())
    .filter((t) => t !== ''),
});

/** What people read of a recipe, as it is typed. */
export function WordsFields({ words, onChange }: { words: TypedWords; onChange(words: TypedWords): void }) {
  const field = (key: keyof TypedWords, label: string, placeholder: string) => (
    <label className="grid gap-1 text-[13px]">
      {label}
      <input
        className="input input-sm w-full"
        placeholder={placeholder}
        value={words[key]}
        onChange={(e) => onChange({ ...words, [key]: e.target.value })}
      />
    </label>
  );
  return (
    <>
      {field('name', t`Name`, t`What it is called`)}
      <label className="grid gap-1 text-[13px]">
        {t`Description`}
        <textarea
          className="textarea textarea-sm w-full"
          rows={2}
          placeholder={t`What it does, and when to use it`}
          value={words.description}
          onChange={(e) => onChange({ ...words, description: e.target.value })}
        />
      </label>
      {field('tags', t`Tags`, t`light, air, drawings`)}
    </>
  );
}
