import { readFileSync, writeFileSync } from 'node:fs';
import { readExr } from '../core/formats/exr/read';
import { writeExr } from '../core/formats/exr/write';
import { nodeZlib } from '../engine/node/zlib';

/**
 * A frame of 1920 by 1080 with 24 half channels, ZIP, from a demo frame: its half channels at twice the size, some of them again
 * under other names; the last bit is noise, as in a rendered frame, so that it does not pack better than one.
 */
export function writeWideFrame(from: string, to: string) {
  const { header, samples } = readExr(readFileSync(from), nodeZlib);
  const [w, h] = [header.dataWindow.xMax + 1, header.dataWindow.yMax + 1];
  const halves = [...samples].filter(([, s]) => s instanceof Uint16Array);
  const beauty = halves.filter(([name]) => !name.includes('.'));
  const others = halves.filter(([name]) => name.includes('.'));
  const chosen = [
    ...beauty,
    ...Array.from({ length: 24 - beauty.length }, (_, i) => others[i % others.length]),
  ];
  const channels = chosen.map(([name, small], n) => {
    const large = new Uint16Array(w * h * 4);
    let noise = n + 1;
    for (let y = 0; y < 2 * h; y++) {
      for (let x = 0; x < 2 * w; x++) {
        noise = (Math.imul(noise, 1664525) + 1013904223) | 0;
        const v = small[(y >> 1) * w + (x >> 1)];
        large[y * 2 * w + x] = v === 0 ? 0 : v ^ ((noise >>> 16) & 1);
      }
    }
    return { name: n < beauty.length ? name : `layer${n}.${name}`, type: 'half' as const, samples: large };
  });
  writeFileSync(
    to,
    writeExr({ channels, dataWindow: { xMin: 0, yMin: 0, xMax: 2 * w - 1, yMax: 2 * h - 1 } }, nodeZlib),
  );
}
