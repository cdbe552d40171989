import { type FormEvent, useState } from 'react';
import { beginFactor, confirmFactor, endFactor } from '@/api/access';
import { request } from '@/api/request';
import { t } from '../words/words';
import { Part } from './AccessFrame';
import { Problem } from './Problem';
import { useWork } from './use-work';

/** A code of the phone beside the password (TOTP, RFC 6238): begun, confirmed by a first code, ended. */
export function SecondFactor({ isOn }: { isOn: boolean }) {
  const { problem, work } = useWork(['account']);
  const [begun, setBegun] = useState<{ secret: string; svg: string }>();
  const withPassword = (e: FormEvent<HTMLFormElement>) => {
    e.preventDefault();
    const body = { password: String(new FormData(e.currentTarget).get('password')) };
    e.currentTarget.reset();
    return work(async () => {
      if (isOn) await request(endFactor, { body });
      else setBegun(await request(beginFactor, { body }));
    });
  };
  const confirm = async (e: FormEvent<HTMLFormElement>) => {
    e.preventDefault();
    const code = String(new FormData(e.currentTarget).get('code'));
    if (await work(() => request(confirmFactor, { body: { code } }))) setBegun(undefined);
  };
  return (
    <Part
      title={t`Second factor`}
      words={t`A code of six digits that changes every half minute, from any app for such codes.`}
    >
      {begun ? (
        <form onSubmit={confirm} className="flex flex-wrap items-start gap-4">
          <div
            className="w-40 rounded bg-white"
            role="img"
            aria-label={t`The secret as a picture, to be read by the app`}
            // biome-ignore lint/security/noDangerouslySetInnerHtml: drawn by this server
            dangerouslySetInnerHTML={{ __html: begun.svg }}
          />
          <div className="grid gap-2">
            <p className="text-xs text-quiet">{t`Read this by the app, or type:`}</p>
            <code className="text-xs break-all" data-testid="secret">
              {begun.secret}
            </code>
            <label className="grid gap-1">
              {t`The code that it shows`}
              <input
                name="code"
                className="input input-sm w-32 tracking-widest"
                inputMode="numeric"
                autoComplete="one-time-code"
                maxLength={6}
                required
              />
            </label>
            <button type="submit" className="btn btn-sm btn-primary">
              {t`Confirm`}
            </button>
          </div>
        </form>
      ) : (
        <form onSubmit={withPassword} className="flex items-end gap-2">
          <label className="grid gap-1">
            {t`Password`}
            <input
              name="password"
              type="password"
              className="input input-sm w-52"
              autoComplete="current-password"
              required
            />
          </label>
          <button type="submit" className="btn btn-sm">
            {isOn ? t`End it` : t`Set it up`}
          </button>
          <span className="pb-1.5 text-quiet" role="status">
            {isOn ? t`It is asked for.` : t`There is none.`}
          </span>
        </form>
      )}
      <Problem words={problem} />
    </Part>
  );
}
