import { createHash, randomUUID } from 'node:crypto';
import { createWriteStream, existsSync, linkSync, readdirSync, renameSync, rmSync, statSync } from 'node:fs';
import { open } from 'node:fs/promises';
import { dirname, join } from 'node:path';
import { Readable, Transform } from 'node:stream';
import { pipeline } from 'node:stream/promises';
import { isPictureName } from '../../core/formats/file-formats';
import { makeFolder } from '../../engine/node/write-file';
import { database, type Row, transaction } from '../base/connect';
import { dataPath } from '../base/data-folder';
import { BadRequest, NotFound, Refused } from '../base/refusals';

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
  await makeFolder(uploadFolder(id));
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

/** Sets bytes aside for a file that comes, before any is read, so that files sent together keep to the quota. @throws {Refused} */
async function reserve(id: string, account: number | undefined, bytes: number): Promise<void> {
  await transaction(async (c) => {
    if (account !== undefined) {
      await c.query('SELECT id FROM account WHERE id = ? FOR UPDATE', [account]);
      const [[{ sent }]] = await c.query<Row[]>(
        'SELECT COALESCE(SUM(bytes), 0) AS sent FROM upload WHERE account_id = ?',
        [account],
      );
      if (Number(sent) + bytes > quota())
        throw new Refused(
          'refused',
          `You may send ${Math.round(quota() / 1e9)} GB, and have sent ${(Number(sent) / 1e9).toFixed(1)} GB.`,
          'Delete shots whose frames you have sent, or ask an administrator.',
        );
    }
    await c.query('UPDATE upload SET bytes = bytes + ? WHERE id = ?', [bytes, id]);
  });
}

/** Bytes that were set aside for what did not come, or that another file of the same name had taken. */
const giveBack = (id: string, bytes: number) =>
  database().query('UPDATE upload SET bytes = GREATEST(0, CAST(bytes AS SIGNED) - ?) WHERE id = ?', [
    bytes,
    id,
  ]);

/**
 * Receives one file of an upload, of which as many bytes are read as were announced and no more. A file that was sent before is replaced, and counts
 * once. @throws {Refused} beyond what the account may send; {BadRequest} for another size than announced.
 */
export async function receiveFile(
  id: string,
  name: string,
  body: ReadableStream<Uint8Array> | null,
  size: number,
  account: number | undefined,
): Promise<{ content: string; bytes: number }> {
  if (!Number.isSafeInteger(size) || size < 0)
    throw new BadRequest(`“${name}” came without its size. Give it in x-zafiro-size.`);
  await reserve(id, account, size);
  const { replaced, ...taken } = await takeFile(id, name, body, size).catch(async (error) => {
    await giveBack(id, size);
    throw error;
  });
  if (replaced > 0) await giveBack(id, replaced);
  return taken;
}

/** Takes one file of an upload from a stream. Whole or not at all; the same content is stored once. */
async function takeFile(
  id: string,
  name: string,
  body: ReadableStream<Uint8Array> | null,
  size: number,
): Promise<{ content: string; bytes: number; replaced: number }> {
  const folder = uploadedFolder(id);
  const target = join(folder, ...checkedName(name));
  if (!body) throw new BadRequest(`“${name}” came without its bytes. Send it again.`);
  await makeFolder(dirname(target));
  const part = `${target}.${randomUUID()}.part`;
  const hash = createHash('sha1');
  let bytes = 0;
  const count = new Transform({
    transform(chunk, _, done) {
      hash.update(chunk);
      bytes += chunk.length;
      if (bytes > size)
        done(new BadRequest(`“${name}” is larger than the ${size} bytes that were announced.`));
      else done(null, chunk);
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
    await makeFolder(dirname(stored));
    if (existsSync(stored)) {
      rmSync(part);
      // Through a name of its own, so that the target is never missing.
      linkSync(stored, part);
    } else linkSync(part, stored);
    const replaced = statSync(target, { throwIfNoEntry: false })?.size ?? 0;
    renameSync(part, target);
    return { content, bytes, replaced };
  } finally {
    // Also what a rename between two links of one file leaves behind.
    rmSync(part, { force: true });
  }
}
