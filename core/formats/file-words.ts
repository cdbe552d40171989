/** The words of a text as a file's name can have them: letters of any language and digits, joined; nothing where it has none. */
export const fileWords = (text: string, joiner: '-' | '_'): string =>
  (text.normalize('NFC').match(/[\p{L}\p{M}\p{N}]+/gu) ?? []).join(joiner);
