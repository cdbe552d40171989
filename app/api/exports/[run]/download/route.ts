import { once } from 'node:events';
import { createReadStream, existsSync, statSync } from 'node:fs';
import { Readable } from 'node:stream';
import { ZipArchive } from 'archiver';
import { downloadExport } from '@/api/exports';
import { fileFormats, formatByName } from '@/core/formats/file-formats';
import { exportedFiles, exportedMovie } from '@/server/exports/runs';
import { answer, NotFound } from '@/server/http/answer';

/** Of what is handed out and is no picture. */
const types: Record<string, string> = {
  zip: 'application/zip',
  mp4: 'video/mp4',
  webm: 'video/webm',
  mkv: 'video/x-matroska',
};

function typeOf(name: string): string {
  const picture = formatByName(name);
  return picture ? fileFormats[picture].mime : types[name.split('.').pop()!];
}

const download = (stream: Readable, name: string, size?: number) =>
  new Response(Readable.toWeb(stream) as ReadableStream, {
    headers: {
      'content-type': typeOf(name),
      // RFC 6266: a plain name for old clients, and the name itself in UTF-8.
      'content-disposition': `attachment; filename="${name.replace(/[^\x20-\x7e]|["\\]/g, '_')}"; filename*=UTF-8''${encodeURIComponent(name)}`,
      'cache-control': 'no-store',
      ...(size === undefined ? {} : { 'x-zafiro-size': String(size) }),
    },
  });

type Finished = { name: string; path: string };

/** Files in a zip, one of them open at a time: whoever leaves lets go of it. */
function zipOf(files: readonly Finished[], gone: readonly Finished[], signal: AbortSignal): Readable {
  const zip = new ZipArchive({ store: true });
  const left = new AbortController();
  for (const event of ['close', 'error']) zip.once(event, () => left.abort());
  signal.addEventListener('abort', () => zip.abort());
  const fill = async () => {
    for (const { name, path } of files) {
      zip.append(createReadStream(path, { signal: left.signal }), { name });
      await once(zip, 'entry', { signal: left.signal });
    }
    if (gone.length > 0)
      zip.append(`These finished frames are not there any more:\n${gone.map((f) => f.name).join('\n')}\n`, {
        name: 'frames-not-there.txt',
      });
    await zip.finalize();
  };
  fill().catch((error) => zip.destroy(left.signal.aborted ? undefined : error));
  return zip;
}

/** The finished files of a run: the file itself if there is one (or `?frame=` names it), else a zip, not packed twice. */
export const GET = answer(downloadExport, async ({ params, query }, { signal }) => {
  const movie =
    query.frame === undefined && query.frames === undefined ? await exportedMovie(params.run) : undefined;
  if (movie && existsSync(movie.path))
    return download(createReadStream(movie.path, { signal }), movie.name, statSync(movie.path).size);
  const wanted = (await exportedFiles(params.run)).filter(
    (f) => query.frame === undefined || f.frame === query.frame,
  );
  const files = wanted.filter((f) => existsSync(f.path));
  if (files.length === 0) throw new NotFound('No frame of this export is finished.');
  const gone = wanted.filter((f) => !existsSync(f.path));
  if (files.length === 1 && gone.length === 0) {
    const [{ name, path }] = files;
    return download(createReadStream(path, { signal }), name, statSync(path).size);
  }
  return download(zipOf(files, gone, signal), `${files[0].name.split('.')[0]}.zip`);
});
