import { join, resolve } from 'node:path';

/** Everything Zafiro keeps: the database, exports, thumbnails, the demo's frames. ZAFIRO_DATA, or .zafiro/ here. */
export const dataFolder = () => resolve(/* turbopackIgnore: true */ process.env.ZAFIRO_DATA || '.zafiro');

export const dataPath = (...parts: string[]) => join(/* turbopackIgnore: true */ dataFolder(), ...parts);
