import { existsSync, readFileSync, rmSync, writeFileSync } from 'node:fs';

const bindings = 'core/kernels/bindings.ts';

/**
 * Writes `core/kernels/bindings.ts`: each kernel's name and the names of its parameters, as the compiler declares the module's exports
 * at `declared` (a `.d.ts` beside the module, which is removed, with the glue code next to it).
 */
export function writeKernelBindings(declared) {
  const kernels = [...readFileSync(declared, 'utf8').matchAll(/export function (\w+)\((.*?)\)/g)]
    .map(([, name, list]) => ({ name, parameters: list.split(', ').map((p) => p.replace(/: .*/, '')) }))
    .sort((a, b) => (a.name < b.name ? -1 : 1));
  const lines = kernels.map(({ name, parameters }) => {
    const ends = parameters.splice(-3).join();
    if (ends !== 'lo,hi,scratch') throw new Error(`${name} ends with (${ends}), not with (lo, hi, scratch).`);
    return `  ${name}: '${parameters.join(' ')}',`;
  });
  const text = `/**
 * Made by \`./zafiro build\` out of the kernels' exports (core/kernels/assembly/index.ts); do not edit. Of each kernel the names of its
 * parameters, in their order; the range of its work and its scratch, which are the last three, are the runtime's.
 */
export const kernelParameters = {
${lines.join('\n')}
} as const;
`;
  // Only when it changes: a file newer than the build would be built again, each time.
  if (!existsSync(bindings) || readFileSync(bindings, 'utf8') !== text) writeFileSync(bindings, text);
  for (const file of [declared, declared.replace('.d.ts', '.js')]) rmSync(file);
}
