import type { toJsonSchema } from '@valibot/to-json-schema';
import { after, id, offset } from './basic-schema';
import { publishedFinishSchema } from './schema';
import { tapSchema } from './step-schema';
import { keyEntries, modulatorSchema } from './track-schema';

/** How documents are published; parts that come again and again stand once. */
export const publishing = {
  typeMode: 'input',
  errorMode: 'ignore',
  definitions: {
    id,
    point: after,
    tap: tapSchema,
    frame: keyEntries.frame,
    handle: offset,
    modulator: modulatorSchema,
  },
} as const satisfies Parameters<typeof toJsonSchema>[1];

/**
 * The finish format as JSON Schema, generated from the declarations of the steps. What a JSON Schema cannot say (links that lead
 * nowhere, keys out of order) is left to the check itself.
 */
export const publishedSchema = (convert: typeof toJsonSchema) => ({
  title: 'Zafiro finish',
  ...convert(publishedFinishSchema(), publishing),
});
