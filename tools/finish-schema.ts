/** Writes docs/finish.schema.json: `node_modules/.bin/tsx tools/finish-schema.ts`, after a change of what a finish may hold. */
import { writeFileSync } from 'node:fs';
import { toJsonSchema } from '@valibot/to-json-schema';
import { publishedSchema } from '../core/finish/published-schema';

writeFileSync('docs/finish.schema.json', `${JSON.stringify(publishedSchema(toJsonSchema))}\n`);
