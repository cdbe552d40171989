import type { toJsonSchema } from '@valibot/to-json-schema';
import { publishing } from '../finish/published-schema';
import { recipeFrame } from './recipe';

const ofFinish = (part: string) => ({ $ref: `finish.schema.json#/properties/${part}` });

/** The format of recipe files as JSON Schema: what is inside has the strands and guides of a finish, whose schema stands beside it. */
export function publishedRecipeSchema(convert: typeof toJsonSchema) {
  const schema = convert(recipeFrame, publishing);
  const inside = {
    type: 'object',
    properties: { main: { const: 'main' }, strands: ofFinish('strands'), guides: ofFinish('guides') },
    required: ['main', 'strands'],
    additionalProperties: false,
  };
  return { title: 'Zafiro recipe', ...schema, properties: { ...schema.properties, inside } };
}
