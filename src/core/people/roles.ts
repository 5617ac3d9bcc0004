/** What somebody may do, the least first: a guest sees chosen baskets, a member works, an owner also says who may come in. */
export const PERSON_ROLES = ['guest', 'member', 'owner'] as const;
export type PersonRole = (typeof PERSON_ROLES)[number];
