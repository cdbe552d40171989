import { createReadStream, existsSync, statSync } from 'node:fs';
import { Readable } from 'node:stream';
import { ZipArchive } from 'archiver';
import { downloadExport } from '@/api/exports';
import { answer, NotFound } from '@/server/answer';
import { exportedFiles } from '@/server/exports/runs';

const types: Record<string, string> = { exr: 'image/x-exr', png: 'image/png', zip: 'application/zip' };

const download = (stream: Readable, name: string, size?: number) =>
  new Response(Readable.toWeb(stream) as ReadableStream, {
    headers: {
      'content-type': types[name.split('.').pop()!],
      'content-disposition': `attachment; filename="${name}"`,
      'cache-control': 'no-store',
      ...(size === undefined ? {} : { 'x-zafiro-size': String(size) }),
    },
  });

/** The finished files of a run: the file itself if there is one (or `?frame=` names it), else a zip, not packed twice. */
export const GET = answer(downloadExport, async ({ params, query }) => {
  const files = (await exportedFiles(params.run)).filter(
    (f) => existsSync(f.path) && (query.frame === undefined || f.frame === query.frame),
  );
  if (files.length === 0) throw new NotFound('No frame of this export is finished.');
  if (files.length === 1) {
    const [{ name, path }] = files;
    return download(createReadStream(path), name, statSync(path).size);
  }
  const zip = new ZipArchive({ store: true });
  for (const { name, path } of files) zip.file(path, { name });
  zip.finalize();
  return download(zip, `${files[0].name.split('.')[0]}.zip`);
});
