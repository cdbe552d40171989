import { Trash2 } from 'lucide-react';
import { type FormEvent, useState } from 'react';
import { addToken, endToken, type OwnAccount, scopes } from '@/api/access';
import { request } from '@/api/request';
import { IconButton } from '../parts/IconButton';
import { when } from '../parts/when';
import { t } from '../words/words';
import { Part } from './AccessFrame';
import { Problem } from './Problem';
import { useWork } from './use-work';

const scopeWords = {
  look: t`look: a script that reads`,
  edit: t`edit: a script that changes`,
  node: t`node: a machine that renders`,
  metrics: t`metrics: a program that measures`,
};

/** Tokens for scripts and machines: what they may do, until when. A new one is shown once. */
export function Tokens({ tokens, isAdmin }: { tokens: OwnAccount['tokens']; isAdmin: boolean }) {
  const { problem, work } = useWork(['account']);
  const [made, setMade] = useState('');
  const add = (e: FormEvent<HTMLFormElement>) => {
    e.preventDefault();
    const given = new FormData(e.currentTarget);
    const body = {
      name: String(given.get('name')),
      scope: scopes.find((s) => s === given.get('scope')) ?? 'look',
      days: Number(given.get('days')),
    };
    e.currentTarget.reset();
    return work(async () => setMade((await request(addToken, { body })).token));
  };
  return (
    <Part
      title={t`Tokens`}
      words={t`For scripts and machines: sent as “Authorization: Bearer …”. They may do what this account may, within their scope.`}
    >
      <ul className="grid gap-1">
        {tokens.map((token) => (
          <li key={token.id} className="flex items-center gap-3">
            <span className="min-w-0 flex-1 truncate">{token.name}</span>
            <span className="text-xs text-quiet">
              {t`${token.scope}, until ${when(token.expiresAt, true)}, ${token.usedAt ? t`used ${when(token.usedAt, true)}` : t`never used`}`}
            </span>
            <IconButton
              icon={Trash2}
              label={t`End the token ${token.name}`}
              onClick={() => work(() => request(endToken, { params: { token: token.id } }))}
            />
          </li>
        ))}
        {tokens.length === 0 && <li className="text-quiet">{t`There are none.`}</li>}
      </ul>
      {made && (
        <p role="status" className="rounded border border-line bg-base-100 p-3">
          {t`Copy it now; it is not shown again:`}
          <code className="mt-1 block break-all" data-testid="token">
            {made}
          </code>
        </p>
      )}
      <form onSubmit={add} className="flex flex-wrap items-end gap-2">
        <label className="grid gap-1">
          {t`Name`}
          <input name="name" className="input input-sm w-44" maxLength={100} required />
        </label>
        <label className="grid gap-1">
          {t`Scope`}
          <select name="scope" className="select select-sm w-56">
            {scopes
              .filter((scope) => isAdmin || scope === 'look' || scope === 'edit')
              .map((scope) => (
                <option key={scope} value={scope}>
                  {scopeWords[scope]}
                </option>
              ))}
          </select>
        </label>
        <label className="grid gap-1">
          {t`Days`}
          <input
            name="days"
            type="number"
            className="input input-sm w-20"
            min={1}
            max={365}
            defaultValue={90}
            required
          />
        </label>
        <button type="submit" className="btn btn-sm">
          {t`Make a token`}
        </button>
      </form>
      <Problem words={problem} />
    </Part>
  );
}
