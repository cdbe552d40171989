import { createHash } from 'node:crypto';
import { readFileSync } from 'node:fs';
import { join } from 'node:path';
import { programVersion } from '../../core/finish/program';

/**
 * What tells the renderers of one build from those of another: the program's version and a digest of what renders. Only such as are the same give the
 * same bits.
 */
export function buildOf(folder: string): string {
  const hash = createHash('sha256');
  for (const name of ['render-process.mjs', 'kernels.wasm']) hash.update(readFileSync(join(folder, name)));
  return `${programVersion} ${hash.digest('hex').slice(0, 12)}`;
}
