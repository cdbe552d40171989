import { parseArgs } from 'node:util';
import { boxHeight, boxWidth } from '../core/formats/exr/types';
import { frameInfo, readBytes } from '../engine/node/media-file';
import { UsageError } from './usage';

/** What `zafiro inspect --json` prints of one file. */
function describe(path: string) {
  const { header, passes } = frameInfo(path, readBytes(path, ''));
  const { channels, compression, lineOrder, dataWindow, displayWindow, pixelAspectRatio } = header;
  return {
    file: path,
    width: boxWidth(displayWindow),
    height: boxHeight(displayWindow),
    dataWindow,
    displayWindow,
    pixelAspectRatio,
    parts: [{ compression, lineOrder, channels: channels.map(({ name, type }) => ({ name, type })) }],
    passes: passes.map(({ name, label, kind, channels }) => ({ name, label, kind, channels })),
  };
}

function inWords(d: ReturnType<typeof describe>): string {
  const { dataWindow: w } = d;
  const lines = [
    `${d.file}: ${d.width} by ${d.height}, data ${w.xMin},${w.yMin} to ${w.xMax},${w.yMax}, ${d.parts[0].compression}`,
    ...d.passes.map((p) => {
      const types = [...new Set(p.channels.map((c) => d.parts[0].channels.find((o) => o.name === c)!.type))];
      return `  ${p.label.padEnd(16)} ${p.kind.padEnd(9)} ${types.join('+').padEnd(6)} ${p.channels.join(' ')}`;
    }),
  ];
  return `${lines.join('\n')}\n`;
}

/** `zafiro inspect`: sizes, windows, channels with types, and passes of EXR files. */
export async function inspect(args: string[]): Promise<void> {
  const { values, positionals } = parseArgs({
    args,
    allowPositionals: true,
    options: { json: { type: 'boolean' } },
  });
  if (positionals.length === 0) throw new UsageError('Use: zafiro inspect FILE… [--json]');
  const all = positionals.map(describe);
  process.stdout.write(values.json ? `${JSON.stringify(all, null, 2)}\n` : all.map(inWords).join(''));
}
