import { useQuery } from '@tanstack/react-query';
import type { PersonRow } from '../../server/people/accounts.ts';
import type { InvitationRow } from '../../server/people/invitations.ts';
import { request } from '../api/client.ts';
import type { Wire } from '../api/queries.ts';

export type PersonWire = Wire<PersonRow>;
export type InvitationWire = Wire<InvitationRow>;

/** Links that still let somebody in. */
export function useInvitations() {
  return useQuery({
    queryKey: ['invitations'],
    queryFn: async () => (await request<{ invitations: InvitationWire[] }>('/api/invitations')).invitations,
  });
}
