'use client';

import { ArrowLeft, FileImage, FolderOpen, X } from 'lucide-react';
import Link from 'next/link';
import { useRouter } from 'next/navigation';
import { useRef, useState } from 'react';
import { useDropzone } from 'react-dropzone';
import { beginUpload } from '@/api/files';
import { request } from '@/api/request';
import { addMedia, addShot } from '@/api/shots';
import type { Encoding } from '@/core/colour/encoding';
import { AppHeader } from '../parts/AppHeader';
import { t } from '../words/words';
import { Destination, type IntoShot } from './Destination';
import { FolderBrowser } from './FolderBrowser';
import { type Found, fromFiles, type GivenFile } from './found';
import { SequenceTable } from './SequenceTable';
import { type Progress, sendFiles } from './upload';

type Props = {
  projects: { name: string; shots: string[] }[];
  /** The project that was asked for. */
  project?: string;
  /** The shot that gets more media. */
  into?: IntoShot;
};

/** A dropped file's name, with its folder if it has one. */
const shortPath = (file: File & { path?: string; relativePath?: string }) => {
  const whole = file.webkitRelativePath || file.relativePath || file.path || file.name;
  return whole
    .split('/')
    .filter((p) => p && p !== '.')
    .slice(-2)
    .join('/');
};

/** Frames come in here: what was dropped or is on the server, shown before anything is copied. */
export function ImportScreen({ projects, project: asked, into }: Props) {
  const router = useRouter();
  const [found, setFound] = useState<Found[]>([]);
  const [where, setWhere] = useState<'' | 'page' | 'server'>('');
  const [ignored, setIgnored] = useState(0);
  const [chosen, setChosen] = useState<Set<string>>(new Set());
  const [encodings, setEncodings] = useState<Record<string, string>>({});
  const [problem, setProblem] = useState('');
  const [progress, setProgress] = useState<Progress | null>(null);
  const [busy, setBusy] = useState(false);
  const abort = useRef<AbortController>(undefined);
  /** The upload that dropped files go to; the same again after an interruption. */
  const upload = useRef<string>(undefined);

  const show = (list: Found[], from: 'page' | 'server', left = 0) => {
    setFound(list);
    setWhere(from);
    setIgnored(left);
    setChosen(new Set(list.length <= 24 ? list.map((f) => f.key) : []));
    setProblem('');
  };
  const take = (files: File[]) => {
    if (files.length === 0) return;
    const given = files.map((file): GivenFile => ({ path: shortPath(file), file }));
    const { found: list, ignored: left } = fromFiles(given);
    upload.current = undefined;
    show(list, 'page', left);
    if (list.length === 0)
      setProblem(t`None of these files is a picture that Zafiro reads: EXR, PNG, TIFF, JPEG or HDR.`);
  };
  const drop = useDropzone({ onDrop: take, noClick: true, noKeyboard: true });
  // It is the page's main part, not one without a meaning of its own.
  const { role: _, ...dropped } = drop.getRootProps();
  const folderInput = useRef<HTMLInputElement>(null);

  const wanted = found.filter((f) => chosen.has(f.key));

  async function bring(project: string, shot: string, stacked: boolean) {
    setBusy(true);
    setProblem('');
    const running = new AbortController();
    abort.current = running;
    let folder = '';
    try {
      if (where === 'page') {
        if (!upload.current) {
          upload.current = (await request(beginUpload, {})).upload;
        }
        const files = wanted.flatMap((f) => [...(f.files?.values() ?? [])]);
        folder = `${await sendFiles(upload.current, files, running.signal, setProgress)}/`;
      }
      const media = wanted.map((f) => ({
        pattern: folder + f.pattern,
        gaps: f.gapRule,
        encoding: (encodings[f.key] || undefined) as Encoding | undefined,
      }));
      if (into) {
        const { names } = await request(addMedia, { params: { shot: into.id }, body: { media } });
        const query = new URLSearchParams(names.map((name) => ['strand', name]));
        if (stacked) query.set('stack', '1');
        router.push(`/shots/${into.id}?${query}`);
        return;
      }
      const made = await request(addShot, { body: { project, shot, media, stacked } });
      router.push(`/shots/${made.shot}`);
    } catch (error) {
      // Whoever sent files knows them by their own names, and not by where the server keeps them.
      setProblem((error as Error).message.replaceAll(folder || '\0', ''));
      setBusy(false);
      setProgress(null);
    }
  }

  return (
    <main {...dropped} className="grid h-dvh grid-rows-[auto_minmax(0,1fr)_auto]">
      <AppHeader title={into ? t`More frames for ${into.name} of ${into.project}` : t`Import frames`}>
        <Link href={into ? `/shots/${into.id}` : '/'} className="btn btn-ghost btn-sm">
          <ArrowLeft size={15} aria-hidden="true" /> {into ? into.name : t`Projects`}
        </Link>
        <input {...drop.getInputProps()} aria-label={t`Files`} />
      </AppHeader>
      <div className="grid min-h-0 grid-cols-[minmax(17rem,22rem)_minmax(0,1fr)]">
        <div className="grid min-h-0 grid-rows-[auto_minmax(0,1fr)] border-r border-line bg-base-200">
          <section
            className={`m-3 grid justify-items-center gap-2 rounded-box border border-dashed p-4 text-center text-sm ${
              drop.isDragActive ? 'border-primary bg-primary/10' : 'border-line'
            }`}
          >
            <p className="text-quiet">{t`Drop files or folders anywhere on this page`}</p>
            <div className="flex gap-2">
              <button type="button" className="btn btn-sm" onClick={drop.open}>
                <FileImage size={15} /> {t`Files…`}
              </button>
              <button type="button" className="btn btn-sm" onClick={() => folderInput.current?.click()}>
                <FolderOpen size={15} /> {t`Folder…`}
              </button>
            </div>
            <input
              ref={folderInput}
              type="file"
              className="hidden"
              aria-label={t`Folder`}
              multiple
              {...{ webkitdirectory: '' }}
              onChange={(e) => take([...(e.target.files ?? [])])}
            />
          </section>
          <FolderBrowser onFound={(list) => show(list, 'server')} />
        </div>
        <div className="min-h-0 overflow-auto">
          {found.length > 0 ? (
            <SequenceTable
              found={found}
              chosen={chosen}
              onChoose={setChosen}
              encodings={encodings}
              onEncoding={(key, encoding) => setEncodings({ ...encodings, [key]: encoding })}
              onGapRule={(key, gapRule) =>
                setFound(found.map((f) => (f.key === key ? { ...f, gapRule } : f)))
              }
              ignored={ignored}
            />
          ) : (
            <section className="grid h-full content-center justify-items-center gap-2 px-8 text-center">
              <FileImage size={36} className="text-quiet" />
              <h2 className="text-lg font-semibold">{t`Nothing chosen yet`}</h2>
              <p className="max-w-md text-sm text-quiet">
                {t`Numbered frames are found as sequences, with their range, their gaps and their passes, before anything is copied. OpenEXR, PNG, TIFF, JPEG and Radiance HDR. Files on this machine are read where they lie and never changed.`}
              </p>
            </section>
          )}
        </div>
      </div>
      <footer className="border-t border-line bg-base-100">
        {problem && (
          <p
            role="alert"
            className="flex items-center gap-2 border-b border-line px-4 py-2 text-sm text-error"
          >
            {problem}
          </p>
        )}
        {progress && (
          <div className="flex items-center gap-3 border-b border-line px-4 py-2 text-sm" role="status">
            <span className="w-64">{t`${progress.files} of ${progress.of} files sent`}</span>
            <progress
              className="progress progress-primary flex-1"
              value={progress.sent}
              max={progress.total || 1}
            />
            <button type="button" className="btn btn-ghost btn-xs" onClick={() => abort.current?.abort()}>
              <X size={14} /> {t`Stop`}
            </button>
          </div>
        )}
        <Destination
          projects={projects}
          asked={asked}
          into={into}
          wanted={wanted}
          copies={where === 'page'}
          busy={busy}
          onImport={bring}
        />
      </footer>
    </main>
  );
}
