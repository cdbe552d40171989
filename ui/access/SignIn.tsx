'use client';
import { type FormEvent, useRef, useState } from 'react';
import { signIn } from '@/api/access';
import { request } from '@/api/request';
import { Mark } from '../parts/Mark';
import { t } from '../words/words';

/** Where one signs in; afterwards the page that was wanted opens. */
export const SignIn = ({ to }: { to: string }) => (
  <main className="grid min-h-dvh place-content-center">
    <div className="rounded-box border border-line bg-base-200 p-7">
      <SignInForm onDone={() => location.assign(to)} />
    </div>
  </main>
);

/** Name, password, and the code where there is a second factor. */
export function SignInForm({ words, onDone }: { words?: string; onDone(): void }) {
  const [problem, setProblem] = useState('');
  const [busy, setBusy] = useState(false);
  const [needsCode, setNeedsCode] = useState(false);
  const form = useRef<HTMLFormElement>(null);
  const submit = async (e: FormEvent) => {
    e.preventDefault();
    const given = new FormData(form.current!);
    const text = (name: string) => String(given.get(name) ?? '');
    setBusy(true);
    setProblem('');
    try {
      const code = text('code').trim();
      const body = { name: text('name'), password: text('password'), ...(code ? { code } : {}) };
      const { needs } = await request(signIn, { body });
      if (needs === 'code') {
        setNeedsCode(true);
        setBusy(false);
      } else onDone();
    } catch (error) {
      setProblem((error as Error).message);
      setBusy(false);
    }
  };
  return (
    <form ref={form} onSubmit={submit} className="grid w-72 gap-4 text-sm">
      <h1 className="flex items-center gap-2 text-lg font-semibold">
        <Mark size={24} /> {t`Sign in to Zafiro`}
      </h1>
      {words && <p className="text-quiet">{words}</p>}
      <label className="grid gap-1">
        {t`Name`}
        <input
          name="name"
          className="input w-full"
          autoComplete="username"
          required
          // biome-ignore lint/a11y/noAutofocus: the page is for this
          autoFocus
        />
      </label>
      <label className="grid gap-1">
        {t`Password`}
        <input
          name="password"
          type="password"
          className="input w-full"
          autoComplete="current-password"
          required
        />
      </label>
      {needsCode && (
        <label className="grid gap-1">
          {t`Code of the second factor`}
          <input
            name="code"
            className="input w-full tracking-widest"
            inputMode="numeric"
            autoComplete="one-time-code"
            pattern="\d{6}"
            maxLength={6}
            required
            // biome-ignore lint/a11y/noAutofocus: it is asked for now
            autoFocus
          />
        </label>
      )}
      {problem && (
        <p role="alert" className="text-error">
          {problem}
        </p>
      )}
      <button type="submit" className="btn btn-primary" disabled={busy}>
        {t`Sign in`}
      </button>
    </form>
  );
}
