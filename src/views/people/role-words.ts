import type { PersonRole } from '../../core/people/roles.ts';

/** What somebody may do, in words that go on after "as". */
export const MAY: Readonly<Record<PersonRole, string>> = {
  owner: 'an owner: everything, and who may come in.',
  member: 'a member: everything that has to do with the music.',
  guest:
    'a guest: you hear and take the baskets that were chosen for you, and send back what became of them.',
};
