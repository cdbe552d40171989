'use client';
import { useQuery } from '@tanstack/react-query';
import Bowser from 'bowser';
import { type FormEvent, useState } from 'react';
import { changePassword, type OwnAccount, readAccount, signOut } from '@/api/access';
import { request } from '@/api/request';
import { State } from '../parts/State';
import { when } from '../parts/when';
import { t } from '../words/words';
import { AccessFrame, Part } from './AccessFrame';
import { Problem } from './Problem';
import { SecondFactor } from './SecondFactor';
import { Tokens } from './Tokens';
import { useWork } from './use-work';

export const accountKey = ['account'];

/** The own account: password, second factor, where one is signed in, tokens. */
export function AccountScreen({ isAdmin }: { isAdmin: boolean }) {
  return (
    <AccessFrame page="/account" isAdmin={isAdmin}>
      <Account />
    </AccessFrame>
  );
}

function Account() {
  const { data, error } = useQuery({ queryKey: accountKey, queryFn: () => request(readAccount, {}) });
  if (error) return <State is="failed" title={t`The account could not be read`} words={error.message} />;
  if (!data) return <State is="loading" title={t`Reading the account …`} />;
  if (!data.account)
    return (
      <State
        is="empty"
        title={t`Nobody signs in here`}
        words={t`Only this machine can reach this server. Start it with --host ADDRESS to let others in.`}
      />
    );
  const { account } = data;
  return (
    <>
      <p className="text-quiet">
        {t`Signed in as ${account.name}${account.isAdmin ? t`, an administrator` : ''}.`}
      </p>
      <Sessions account={account} />
      <Password />
      <SecondFactor isOn={account.hasSecondFactor} />
      <Tokens tokens={account.tokens} isAdmin={account.isAdmin} />
    </>
  );
}

/** A browser and its system, by what it says of itself. */
function browserOf(agent: string): string {
  if (agent === '') return t`unknown browser`;
  const { browser, os } = Bowser.parse(agent);
  return browser.name ? [browser.name, os.name].filter(Boolean).join(', ') : agent;
}

const leave = async (everywhere: boolean) => {
  await request(signOut, { body: { everywhere } });
  location.assign('/sign-in');
};

function Sessions({ account }: { account: OwnAccount }) {
  const { problem, work } = useWork(accountKey);
  return (
    <Part title={t`Signed in`} words={t`Browsers that are signed in with this account.`}>
      <ul className="grid gap-1">
        {account.sessions.map((s) => (
          <li key={`${s.begunAt}${s.address}`} className="flex items-baseline gap-3">
            <span className="min-w-0 flex-1 truncate" title={s.agent}>
              {browserOf(s.agent)}
            </span>
            <span className="text-xs text-quiet">
              {t`from ${s.address}, last seen ${when(s.seenAt, true)}`}
              {s.isThis && t`, this one`}
            </span>
          </li>
        ))}
      </ul>
      <div className="flex gap-2">
        <button type="button" className="btn btn-sm" onClick={() => work(() => leave(false))}>
          {t`Sign out`}
        </button>
        <button type="button" className="btn btn-sm" onClick={() => work(() => leave(true))}>
          {t`Sign out everywhere`}
        </button>
      </div>
      <Problem words={problem} />
    </Part>
  );
}

function Password() {
  const { problem, work } = useWork(accountKey);
  const [done, setDone] = useState(false);
  const submit = async (e: FormEvent<HTMLFormElement>) => {
    e.preventDefault();
    const form = e.currentTarget;
    const given = new FormData(form);
    const body = { now: String(given.get('now')), next: String(given.get('next')) };
    setDone(await work(() => request(changePassword, { body })));
    form.reset();
  };
  return (
    <Part title={t`Password`} words={t`At least 12 letters. Other browsers are signed out, and tokens end.`}>
      <form onSubmit={submit} className="flex flex-wrap items-end gap-2">
        <label className="grid gap-1">
          {t`Now`}
          <input
            name="now"
            type="password"
            className="input input-sm w-52"
            autoComplete="current-password"
            required
          />
        </label>
        <label className="grid gap-1">
          {t`From now on`}
          <input
            name="next"
            type="password"
            className="input input-sm w-52"
            autoComplete="new-password"
            minLength={12}
            required
          />
        </label>
        <button type="submit" className="btn btn-sm">
          {t`Change it`}
        </button>
      </form>
      <Problem words={problem} />
      {done && <p role="status">{t`The password is changed.`}</p>}
    </Part>
  );
}
