/** Writes docs/finish.schema.json and docs/recipe.schema.json: `node_modules/.bin/tsx tools/finish-schema.ts`, after a change of what a finish may hold. */
import { writeFileSync } from 'node:fs';
import { toJsonSchema } from '@valibot/to-json-schema';
import { publishedSchema } from '../core/finish/published-schema';
import { publishedRecipeSchema } from '../core/recipes/published-schema';

const write = (name: string, schema: object) =>
  writeFileSync(`docs/${name}.schema.json`, `${JSON.stringify(schema)}\n`);
write('finish', publishedSchema(toJsonSchema));
write('recipe', publishedRecipeSchema(toJsonSchema));
