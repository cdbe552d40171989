import { addPerson, listPeople } from '@/api/access';
import { addAccount, listAccounts } from '@/server/access/accounts';
import { answer } from '@/server/http/answer';

export const GET = answer(listPeople, listAccounts);

export const POST = answer(addPerson, async ({ body: { name, password, isAdmin } }) => ({
  id: await addAccount(name, password, isAdmin),
}));
