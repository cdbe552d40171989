import { type FormEvent, useEffect, useState } from 'react';
import { t } from '../words/words';
import type { Found } from './found';

/** The shot that the frames are added to. */
export type IntoShot = { id: number; name: string; project: string };

type Props = {
  projects: { name: string; shots: string[] }[];
  /** The project that was asked for. */
  asked?: string;
  into?: IntoShot;
  wanted: Found[];
  /** The files are uploaded, not read from their folder. */
  copies: boolean;
  busy: boolean;
  onImport(project: string, shot: string, stacked: boolean): void;
};

/** A name for the new shot that its project does not have yet: that of the frames, where they have one. */
function freeShot({ projects, project, wanted }: Pick<Props, 'projects' | 'wanted'> & { project: string }) {
  const taken = projects.find((p) => p.name === project)?.shots ?? [];
  const [first] = wanted;
  const plain = first?.name.replace(/\.[a-z]+$/i, '').replace(/[\s._-]+$/, '');
  const base = plain || t`Shot ${String((taken.length + 1) * 10).padStart(3, '0')}`;
  let name = base;
  for (let n = 2; taken.includes(name); n++) name = `${base} ${n}`;
  return name;
}

/** The project whose name stands in the path of the frames, else the one that was worked on last. */
function likelyProject(projects: Props['projects'], [first]: Found[]): string {
  const plain = (text: string) => text.toLowerCase().replace(/[^\p{L}\p{N}]+/gu, '');
  const path = plain(`${first?.folder ?? ''} ${first?.pattern ?? ''}`);
  const named = projects.filter((p) => plain(p.name).length > 2 && path.includes(plain(p.name)));
  const longest = named.sort((a, b) => b.name.length - a.name.length)[0];
  return (longest ?? projects[0])?.name ?? t`First project`;
}

/** Several transparent drawings of one folder are most likely layers. */
const looksLikeLayers = (wanted: Found[]) =>
  wanted.length > 1 && wanted.every((f) => /\.(png|tiff?)$/i.test(f.pattern));

/** Which shot the frames become. */
export function Destination({ projects, asked, into, wanted, copies, busy, onImport }: Props) {
  const [typedProject, setProject] = useState<string | null>(asked ?? null);
  const project = typedProject ?? likelyProject(projects, wanted);
  const [typed, setTyped] = useState<string | null>(null);
  const shot = typed ?? freeShot({ projects, project, wanted });
  const isTaken =
    !into && (projects.find((p) => p.name === project.trim())?.shots.includes(shot.trim()) ?? false);
  const [stacked, setStacked] = useState(false);
  const layers = looksLikeLayers(wanted);
  useEffect(() => setStacked(layers), [layers]);
  const frames = wanted.reduce((sum, f) => sum + f.frames.length, 0);

  const submit = (event: FormEvent) => {
    event.preventDefault();
    onImport(project, shot, stacked && wanted.length > 1);
  };
  return (
    <form className="flex flex-wrap items-end gap-3 px-4 py-3" onSubmit={submit}>
      {!into && (
        <>
          <label className="grid gap-1 text-xs text-quiet">
            {t`Project`}
            <input
              name="project"
              required
              list="project-names"
              value={project}
              onFocus={(e) => e.target.select()}
              onChange={(e) => setProject(e.target.value)}
              className="input input-sm w-48 text-base-content"
            />
            <datalist id="project-names">
              {projects.map((p) => (
                <option key={p.name} value={p.name} />
              ))}
            </datalist>
          </label>
          <label className="grid gap-1 text-xs text-quiet">
            {t`Shot`}
            <input
              name="shot"
              required
              value={shot}
              onFocus={(e) => e.target.select()}
              onChange={(e) => setTyped(e.target.value)}
              aria-invalid={isTaken}
              className={`input input-sm w-40 text-base-content ${isTaken ? 'input-error' : ''}`}
            />
            {isTaken && (
              <span role="alert" className="text-error">
                {t`This shot exists already.`}
              </span>
            )}
          </label>
        </>
      )}
      {wanted.length > 1 && (
        <label className="grid gap-1 text-xs text-quiet">
          {t`Becomes`}
          <select
            name="stacked"
            className="select select-sm w-64 text-base-content"
            value={stacked ? 'stack' : 'first'}
            onChange={(e) => setStacked(e.target.value === 'stack')}
          >
            <option value="first">
              {into ? t`a strand for each` : t`the picture of ${wanted[0].name}, others beside`}
            </option>
            <option value="stack">{t`a stack of ${wanted.length} layers, in this order`}</option>
          </select>
        </label>
      )}
      <span className="ml-auto self-center text-sm text-quiet">
        {wanted.length === 0
          ? t`Choose sequences to import`
          : t`${t`${wanted.length} sequences`}, ${t`${frames} files`}, ${copies ? t`sent to the server` : t`read where they lie`}`}
      </span>
      <button
        type="submit"
        className="btn btn-primary btn-sm self-center"
        disabled={busy || wanted.length === 0 || isTaken}
      >
        {busy ? t`Importing…` : into ? t`Add to ${into.name}` : t`Import`}
      </button>
    </form>
  );
}
