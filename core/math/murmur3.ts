const utf8 = new TextEncoder();

/** MurmurHash3_x86_32 of the UTF-8 bytes of `text` (Austin Appleby, public domain). */
export function murmur3(text: string, seed = 0): number {
  const bytes = utf8.encode(text);
  const mix = (k: number) => {
    const a = Math.imul(k, 0xcc9e2d51);
    return Math.imul((a << 15) | (a >>> 17), 0x1b873593);
  };
  let h = seed;
  const blocks = bytes.length & ~3;
  for (let i = 0; i < blocks; i += 4) {
    h ^= mix(bytes[i] | (bytes[i + 1] << 8) | (bytes[i + 2] << 16) | (bytes[i + 3] << 24));
    h = Math.imul((h << 13) | (h >>> 19), 5) + 0xe6546b64;
  }
  let tail = 0;
  for (let i = bytes.length - 1; i >= blocks; i--) tail = (tail << 8) | bytes[i];
  if (blocks < bytes.length) h ^= mix(tail);
  h ^= bytes.length;
  h = Math.imul(h ^ (h >>> 16), 0x85ebca6b);
  h = Math.imul(h ^ (h >>> 13), 0xc2b2ae35);
  return (h ^ (h >>> 16)) >>> 0;
}
