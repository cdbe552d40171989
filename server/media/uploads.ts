import { createHash, randomUUID } from 'node:crypto';
import {
  createWriteStream,
  existsSync,
  linkSync,
  mkdirSync,
  readdirSync,
  renameSync,
  rmSync,
  statSync,
} from 'node:fs';
import { open } from 'node:fs/promises';
import { join } from 'node:path';
import { Readable, Transform } from 'node:stream';
import { pipeline } from 'node:stream/promises';
import { isPictureName } from '../../core/formats/sequences';
import { dataPath } from '../data-folder';
import { database, rows } from '../db/connect';
import { BadRequest, NotFound, Refused } from '../refusals';

/**
 * Uploaded files are stored by their content, each content once, and under their own names as links in the
 * folder of their upload. Sending a file again does no harm.
 */
const uploadFolder = (id: string) => dataPath('media', id);
const storePath = (content: string) => dataPath('store', content.slice(0, 2), content);

/** A place for files to come. */
export async function beginUpload(account?: number): Promise<string> {
  const id = randomUUID();
  await database().query('INSERT INTO upload (id, account_id) VALUES (?, ?)', [id, account ?? null]);
  mkdirSync(uploadFolder(id), { recursive: true });
  return id;
}

/** The folder of an upload. @throws {NotFound} */
export function uploadedFolder(id: string): string {
  const folder = uploadFolder(id);
  if (!/^[0-9a-f-]{36}$/.test(id) || !existsSync(folder))
    throw new NotFound('This upload is not there any more. Begin again.');
  return folder;
}

/** Received files: names with their sizes. */
export function uploaded(id: string): Record<string, number> {
  const folder = uploadedFolder(id);
  const found: Record<string, number> = {};
  for (const entry of readdirSync(folder, { withFileTypes: true, recursive: true })) {
    if (!entry.isFile() || entry.name.endsWith('.part')) continue;
    const path = join(entry.parentPath ?? entry.path, entry.name);
    found[path.slice(folder.length + 1)] = statSync(path).size;
  }
  return found;
}

/** A name with at most one folder before it; nothing that could leave the upload's folder. */
function checkedName(name: string): string[] {
  const parts = name.split('/');
  const sound = parts.every(
    (p) => p.length > 0 && p.length <= 200 && !p.startsWith('.') && !/[\\\0]/.test(p),
  );
  if (!sound || parts.length > 2) throw new BadRequest(`“${name}” cannot be a file's name here. Rename it.`);
  if (!isPictureName(name))
    throw new BadRequest(`“${name}” is no picture that Zafiro reads: EXR, PNG, TIFF, JPEG or HDR.`);
  return parts;
}

/** How many bytes an account may have sent. */
const quota = () => Number(process.env.ZAFIRO_UPLOAD_GIGABYTES || 200) * 1e9;

/** @throws {Refused} where a file would be more than an account may send. */
export async function needQuota(account: number | undefined, bytes: number): Promise<void> {
  if (account === undefined) return;
  const [{ sent }] = await rows<{ sent: number }>(
    'SELECT COALESCE(SUM(bytes), 0) AS sent FROM upload WHERE account_id = ?',
    [account],
  );
  if (!(bytes >= 0) || Number(sent) + bytes > quota())
    throw new Refused(
      'refused',
      `You may send ${Math.round(quota() / 1e9)} GB, and have sent ${(Number(sent) / 1e9).toFixed(1)} GB.`,
      'Delete shots whose frames you have sent, or ask an administrator.',
    );
}

/** A file was received. */
export const countUpload = (id: string, bytes: number) =>
  database().query('UPDATE upload SET bytes = bytes + ? WHERE id = ?', [bytes, id]);

/** Takes one file of an upload from a stream. Whole or not at all; the same content is stored once. */
export async function takeFile(
  id: string,
  name: string,
  body: ReadableStream<Uint8Array> | null,
  size: number,
): Promise<{ content: string; bytes: number }> {
  const folder = uploadedFolder(id);
  const target = join(folder, ...checkedName(name));
  if (!body) throw new BadRequest(`“${name}” came without its bytes. Send it again.`);
  mkdirSync(join(target, '..'), { recursive: true });
  const part = `${target}.${randomUUID()}.part`;
  const hash = createHash('sha1');
  let bytes = 0;
  const count = new Transform({
    transform(chunk, _, done) {
      hash.update(chunk);
      bytes += chunk.length;
      done(null, chunk);
    },
  });
  try {
    await pipeline(Readable.fromWeb(body as never), count, createWriteStream(part));
    if (bytes !== size)
      throw new BadRequest(`“${name}” arrived with ${bytes} of ${size} bytes. Send it again.`);
    const file = await open(part, 'r');
    await file.sync();
    await file.close();
    const content = hash.digest('hex');
    const stored = storePath(content);
    mkdirSync(join(stored, '..'), { recursive: true });
    if (existsSync(stored)) {
      rmSync(part);
      // Through a name of its own, so that the target is never missing.
      linkSync(stored, part);
    } else linkSync(part, stored);
    renameSync(part, target);
    return { content, bytes };
  } finally {
    // Also what a rename between two links of one file leaves behind.
    rmSync(part, { force: true });
  }
}
