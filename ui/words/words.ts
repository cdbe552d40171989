import i18next from 'i18next';
import english from './en.json';

/**
 * The words of the screens. A text is written where it is shown, in English, as t`${done} of ${all} frames`; that is also its name in the
 * catalogue (`en.json`, made by `tools/words.ts`), where what is put in is {{0}}, {{1}}. Another language is another catalogue of the same
 * names. A name that ends in `_one` (or in another plural form of its language) is taken where the first number put in asks for it.
 */
const words = i18next.createInstance();
void words.init({
  lng: 'en',
  resources: { en: { translation: english } },
  initAsync: false,
  keySeparator: false,
  nsSeparator: false,
  // React keeps what users type from being read as markup.
  interpolation: { escapeValue: false },
});

type Part = string | number | false | null | undefined;

/** A text in the language of the screen; what is put in and is nothing leaves nothing. */
export function t(text: TemplateStringsArray, ...parts: readonly Part[]): string {
  const values = parts.map((part) => (part === null || part === undefined || part === false ? '' : part));
  const count = values.find((value) => typeof value === 'number');
  return words.t(nameOf(text), { ...values, ...(count !== undefined && { count }) });
}

/** Name of a text in the catalogue. */
export const nameOf = (text: readonly string[]) =>
  text.reduce((name, part, i) => `${name}{{${i - 1}}}${part}`);
