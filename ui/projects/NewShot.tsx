import { useRouter } from 'next/navigation';
import { type FormEvent, useEffect, useRef, useState } from 'react';

/** Asks for a project, a shot and the path of its frames. */
export function NewShot({ projects, onClose }: { projects: string[]; onClose(): void }) {
  const router = useRouter();
  const dialog = useRef<HTMLDialogElement>(null);
  const [problem, setProblem] = useState('');
  const [busy, setBusy] = useState(false);
  useEffect(() => dialog.current?.showModal(), []);

  async function submit(event: FormEvent<HTMLFormElement>) {
    event.preventDefault();
    setBusy(true);
    setProblem('');
    const given = Object.fromEntries(new FormData(event.currentTarget));
    const response = await fetch('/api/shots', { method: 'POST', body: JSON.stringify(given) }).catch(
      () => null,
    );
    const told = await response?.json().catch(() => null);
    setBusy(false);
    if (told?.shot) router.push(`/shots/${told.shot}`);
    else setProblem(told?.error ?? 'The server does not answer. Start it again, then try once more.');
  }

  return (
    <dialog ref={dialog} className="modal" onClose={onClose} aria-labelledby="new-shot">
      <form className="modal-box grid gap-3 border border-line" onSubmit={submit}>
        <h2 id="new-shot" className="text-lg font-semibold">
          New shot
        </h2>
        <label className="grid gap-1 text-sm">
          Project
          <input
            name="project"
            required
            list="project-names"
            defaultValue={projects[0]}
            className="input w-full"
          />
          <datalist id="project-names">
            {projects.map((p) => (
              <option key={p} value={p} />
            ))}
          </datalist>
        </label>
        <label className="grid gap-1 text-sm">
          Shot
          <input name="shot" required className="input w-full" placeholder="Shot 020" />
        </label>
        <label className="grid gap-1 text-sm">
          Frames, as a path on this machine
          <input name="pattern" required className="input w-full" placeholder="/renders/hall/hall.####.exr" />
          <span className="text-xs text-quiet">
            The number as ####, %04d or [1-24]. EXR, scanline, with ZIP, ZIPS, RLE or no compression. Frames
            are read in place and never changed.
          </span>
        </label>
        {problem && (
          <p role="alert" className="text-sm text-error">
            {problem}
          </p>
        )}
        <div className="modal-action">
          <button type="button" className="btn btn-ghost" onClick={onClose}>
            Not now
          </button>
          <button type="submit" className="btn btn-primary" disabled={busy}>
            {busy ? 'Looking at the frames…' : 'Make the shot'}
          </button>
        </div>
      </form>
    </dialog>
  );
}
