import { FileError } from './file-error';

/**
 * International text in PNG files: iTXt chunks, UTF-8, deflated (W3C *Portable Network Graphics (PNG) Specification*, second edition, 11.3.4.5; the CRC of
 * annex D).
 */

const signature = [0x89, 0x50, 0x4e, 0x47, 0x0d, 0x0a, 0x1a, 0x0a];

export const looksLikePng = (bytes: Uint8Array): boolean => signature.every((b, i) => bytes[i] === b);

const crcTable = Uint32Array.from({ length: 256 }, (_, n) => {
  let c = n;
  for (let k = 0; k < 8; k++) c = c & 1 ? 0xedb88320 ^ (c >>> 1) : c >>> 1;
  return c >>> 0;
});
function crc32(bytes: Uint8Array): number {
  let c = 0xffffffff;
  for (const b of bytes) c = crcTable[(c ^ b) & 255] ^ (c >>> 8);
  return (c ^ 0xffffffff) >>> 0;
}

type Chunk = { type: string; start: number; length: number };

/** The chunks of a file, as far as its bytes are here. */
function* chunksOf(bytes: Uint8Array): Generator<Chunk> {
  const view = new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength);
  for (let at = signature.length; at + 8 <= bytes.length; ) {
    const length = view.getUint32(at);
    const type = String.fromCharCode(...bytes.subarray(at + 4, at + 8));
    yield { type, start: at + 8, length };
    at += 12 + length;
  }
}

/**
 * The file with a text under a keyword, before its pixels. `deflate` is zlib's. @throws {FileError} where it is no PNG.
 */
export function withPngText(
  bytes: Uint8Array,
  keyword: string,
  text: string,
  deflate: (data: Uint8Array) => Uint8Array,
): Uint8Array {
  const [head] = looksLikePng(bytes) ? chunksOf(bytes) : [];
  if (head?.type !== 'IHDR') throw new FileError('This is no PNG', 0);
  const key = new TextEncoder().encode(keyword);
  const body = deflate(new TextEncoder().encode(text));
  // Keyword, 0, compressed, by zlib, no language, 0, no translated keyword, 0, the text.
  const length = key.length + 5 + body.length;
  const chunk = new Uint8Array(12 + length);
  const view = new DataView(chunk.buffer);
  view.setUint32(0, length);
  chunk.set(new TextEncoder().encode('iTXt'), 4);
  chunk.set(key, 8);
  chunk[8 + key.length + 1] = 1;
  chunk.set(body, 8 + key.length + 5);
  view.setUint32(8 + length, crc32(chunk.subarray(4, 8 + length)));
  const at = head.start + head.length + 4;
  const out = new Uint8Array(bytes.length + chunk.length);
  out.set(bytes.subarray(0, at));
  out.set(chunk, at);
  out.set(bytes.subarray(at), at + chunk.length);
  return out;
}

/** The text under a keyword, where the file has one before its pixels. `inflate` is zlib's. @throws {FileError} where it is damaged. */
export function pngText(
  bytes: Uint8Array,
  keyword: string,
  inflate: (data: Uint8Array) => Uint8Array,
): string | undefined {
  if (!looksLikePng(bytes)) return undefined;
  for (const { type, start, length } of chunksOf(bytes)) {
    if (type === 'IDAT') return undefined;
    if (type !== 'iTXt') continue;
    const data = bytes.subarray(start, start + length);
    const end = data.indexOf(0);
    if (end < 0 || new TextDecoder().decode(data.subarray(0, end)) !== keyword) continue;
    if (data.length < length) throw new FileError('The file ends in its text', start);
    const compressed = data[end + 1] === 1;
    const language = data.indexOf(0, end + 3);
    const translated = language < 0 ? -1 : data.indexOf(0, language + 1);
    if (translated < 0) throw new FileError('The text of the file is damaged', start);
    const body = data.subarray(translated + 1);
    try {
      return new TextDecoder('utf-8', { fatal: true }).decode(compressed ? inflate(body) : body);
    } catch {
      throw new FileError('The text of the file is damaged', start);
    }
  }
  return undefined;
}
