import { readMembers, setMember } from '@/api/access';
import { membersOf, rootsOf, setMember as set } from '@/server/access/members';
import { answer } from '@/server/http/answer';

export const GET = answer(readMembers, async ({ params }) => ({
  members: await membersOf(params.project),
  roots: await rootsOf(params.project),
}));

export const PUT = answer(setMember, async ({ params, body }) => {
  await set(params.project, body.account, body.role);
  return {};
});
