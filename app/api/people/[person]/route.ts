import { changePerson, removePerson } from '@/api/access';
import { changeAccount, letMakeProjects, listAccounts, setPassword } from '@/server/access/accounts';
import { answer, NotFound } from '@/server/http/answer';

export const PATCH = answer(changePerson, async ({ params, body }) => {
  const person = (await listAccounts()).find((a) => a.id === params.person);
  if (!person) throw new NotFound('This account is not there any more.');
  if (body.isAdmin !== undefined) await changeAccount(person.id, { isAdmin: body.isAdmin });
  if (body.makesProjects !== undefined) await letMakeProjects(person.id, body.makesProjects);
  if (body.password !== undefined) await setPassword(person.id, person.name, body.password);
  return {};
});

export const DELETE = answer(removePerson, async ({ params }) => {
  await changeAccount(params.person, 'remove');
  return {};
});
