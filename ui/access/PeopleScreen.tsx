'use client';
import { useQuery } from '@tanstack/react-query';
import { Trash2 } from 'lucide-react';
import type { FormEvent } from 'react';
import { addPerson, changePerson, listPeople, type Person, removePerson } from '@/api/access';
import { request } from '@/api/request';
import { IconButton } from '../parts/IconButton';
import { State } from '../parts/State';
import { when } from '../parts/when';
import { t } from '../words/words';
import { AccessFrame, Part } from './AccessFrame';
import { Problem } from './Problem';
import { useWork } from './use-work';

const key = ['people'];

/** All accounts, for administrators. */
export const PeopleScreen = () => (
  <AccessFrame page="/people" isAdmin>
    <People />
  </AccessFrame>
);

function People() {
  const { data, error } = useQuery({ queryKey: key, queryFn: () => request(listPeople, {}) });
  const { problem, work } = useWork(key);
  const add = (e: FormEvent<HTMLFormElement>) => {
    e.preventDefault();
    const form = e.currentTarget;
    const given = new FormData(form);
    const body = {
      name: String(given.get('name')),
      password: String(given.get('password')),
      isAdmin: given.get('admin') === 'on',
    };
    return work(async () => {
      await request(addPerson, { body });
      form.reset();
    });
  };
  if (error) return <State is="failed" title={t`The accounts could not be read`} words={error.message} />;
  if (!data) return <State is="loading" title={t`Reading the accounts …`} />;
  return (
    <>
      <table className="table mt-2">
        <thead>
          <tr>
            <th scope="col">{t`Name`}</th>
            <th scope="col">{t`Second factor`}</th>
            <th scope="col">{t`Since`}</th>
            <th scope="col">{t`Makes projects`}</th>
            <th scope="col">{t`Administrator`}</th>
            <th scope="col">
              <span className="sr-only">{t`Remove`}</span>
            </th>
          </tr>
        </thead>
        <tbody>
          {data.map((person) => (
            <Row key={person.id} person={person} work={work} />
          ))}
        </tbody>
      </table>
      <Problem words={problem} />
      <Part
        title={t`Another account`}
        words={t`What they may see is set at each project, in its menu on the shelf. They change the password when they have signed in.`}
      >
        <form onSubmit={add} className="flex flex-wrap items-end gap-3">
          <label className="grid gap-1">
            {t`Name`}
            <input name="name" className="input input-sm w-44" maxLength={60} autoComplete="off" required />
          </label>
          <label className="grid gap-1">
            {t`First password`}
            <input
              name="password"
              type="password"
              className="input input-sm w-52"
              autoComplete="new-password"
              minLength={12}
              required
            />
          </label>
          <label className="flex items-center gap-2 pb-1.5">
            <input name="admin" type="checkbox" className="checkbox checkbox-sm" /> {t`Administrator`}
          </label>
          <button type="submit" className="btn btn-sm btn-primary">
            {t`Make the account`}
          </button>
        </form>
      </Part>
    </>
  );
}

function Row({ person, work }: { person: Person; work(doing: () => Promise<unknown>): Promise<boolean> }) {
  const params = { person: person.id };
  const change = (body: { isAdmin?: boolean; makesProjects?: boolean }) =>
    work(() => request(changePerson, { params, body }));
  return (
    <tr>
      <td>{person.name}</td>
      <td>{person.hasSecondFactor ? t`yes` : t`no`}</td>
      <td>{when(person.createdAt, true)}</td>
      <td>
        <Switch
          label={t`${person.name} may make projects`}
          on={person.makesProjects}
          fixed={person.isAdmin}
          onChange={(makesProjects) => change({ makesProjects })}
        />
      </td>
      <td>
        <Switch
          label={t`${person.name} is an administrator`}
          on={person.isAdmin}
          onChange={(isAdmin) => change({ isAdmin })}
        />
      </td>
      <td>
        <IconButton
          icon={Trash2}
          label={t`Remove the account ${person.name}`}
          onClick={() => work(() => request(removePerson, { params }))}
        />
      </td>
    </tr>
  );
}

type SwitchProps = { label: string; on: boolean; fixed?: boolean; onChange(on: boolean): void };

const Switch = ({ label, on, fixed, onChange }: SwitchProps) => (
  <input
    type="checkbox"
    className="toggle toggle-sm"
    aria-label={label}
    checked={on}
    disabled={fixed}
    onChange={(e) => onChange(e.target.checked)}
  />
);
