import { createReadStream, existsSync, statSync } from 'node:fs';
import { Readable } from 'node:stream';
import { ZipArchive } from 'archiver';
import { answer, NotFound, wholeNumber } from '@/server/answer';
import { exportedFiles } from '@/server/exports/exports';

type At = { params: Promise<{ run: string }> };

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
export const GET = (request: Request, { params }: At) =>
  answer(async () => {
    const id = wholeNumber((await params).run);
    const only = new URL(request.url).searchParams.get('frame');
    const files = (await exportedFiles(id)).filter(
      (f) => existsSync(f.path) && (only === null || f.frame === Number(only)),
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
