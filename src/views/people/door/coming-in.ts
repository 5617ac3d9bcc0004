import { sendJson } from '../../api/client.ts';
import { queryClient } from '../../api/queries.ts';

/** Somebody has come in: what was refused before is asked for again. */
export async function cameIn(): Promise<void> {
  await queryClient.invalidateQueries({ queryKey: ['me'] });
  // The link that was used opens nothing more.
  await queryClient.invalidateQueries({ predicate: ({ queryKey }) => queryKey[0] !== 'join' });
}

/** Leaves. The page begins anew: nothing of what was shown stays in it. */
export async function signOut(): Promise<void> {
  await sendJson('DELETE', '/api/session');
  location.assign('/');
}
