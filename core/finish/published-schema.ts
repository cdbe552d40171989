import type { toJsonSchema } from '@valibot/to-json-schema';
import { after, id } from './heads';
import { publishedFinishSchema } from './schema';
import { handleSchema, keyEntries, modulatorSchema, tapSchema } from './step-schema';

/**
 * The finish format as JSON Schema, generated from the declarations of the steps. What a JSON Schema cannot say (links that lead
 * nowhere, keys out of order) is left to the check itself.
 */
export const publishedSchema = (convert: typeof toJsonSchema) => ({
  title: 'Zafiro finish',
  ...convert(publishedFinishSchema(), {
    typeMode: 'input',
    errorMode: 'ignore',
    definitions: {
      id,
      point: after,
      tap: tapSchema,
      frame: keyEntries.frame,
      handle: handleSchema,
      modulator: modulatorSchema,
    },
  }),
});
