import { useMutation, useQuery } from '@tanstack/react-query';
import { useRef } from 'react';
import { plural } from '../../core/words.ts';
import { ROLES, type Role } from '../../core/split/roles.ts';
import type { Bank } from '../../server/library/handoff/banks.ts';
import { Button, Toggle } from '../../ui/Button.tsx';
import { request, sendJson } from '../api/client.ts';
import { renew, tellProblem, type Wire } from '../api/queries.ts';

/** SoundFonts of one's own: the sounds of previews, by role. */
export function BankList() {
  const { data: banks = [], error } = useQuery({
    queryKey: ['banks'],
    queryFn: async () => (await request<{ banks: Wire<Bank>[] }>('/api/banks')).banks,
  });
  const chooser = useRef<HTMLInputElement>(null);
  const settle = { onError: tellProblem, onSettled: () => renew('banks') };
  const add = useMutation({
    mutationFn: (file: File) => {
      const body = new FormData();
      body.set('file', file);
      return request('/api/banks', { method: 'POST', body });
    },
    ...settle,
  });
  const setRoles = useMutation({
    mutationFn: ({ id, roles }: { id: string; roles: Role[] }) =>
      sendJson('PATCH', `/api/banks/${id}`, { roles }),
    ...settle,
  });
  const remove = useMutation({
    mutationFn: (id: string) => sendJson('DELETE', `/api/banks/${id}`),
    ...settle,
  });
  return (
    <section aria-label="Sounds of previews" className="grid gap-2">
      <h2 className="text-lg">Sounds of previews</h2>
      <p className="text-sm text-muted">
        Previews in packs are played by the shipped sounds, or by a SoundFont of your own, role by role.
      </p>
      {error && <p className="text-sm text-madder">{error.message}</p>}
      {banks.map(({ id, name, presets, size, roles }) => (
        <div key={id} className="grid gap-1 border-t border-rule pt-2">
          <div className="flex items-baseline gap-2 text-sm">
            <b className="min-w-0 flex-1 truncate">{name}</b>
            <span className="text-muted">
              {plural(presets, 'sound')}, {Math.max(1, Math.round(size / 1024 / 1024))} MB
            </span>
            <Button small kind="quiet" onClick={() => remove.mutate(id)}>
              Remove
            </Button>
          </div>
          <div className="flex flex-wrap gap-1" role="group" aria-label={`Roles that ${name} plays`}>
            {ROLES.map((role) => (
              <Toggle
                key={role}
                on={roles.includes(role)}
                onClick={() =>
                  setRoles.mutate({
                    id,
                    roles: roles.includes(role) ? roles.filter((one) => one !== role) : [...roles, role],
                  })
                }
              >
                {role}
              </Toggle>
            ))}
          </div>
        </div>
      ))}
      <input
        ref={chooser}
        type="file"
        accept=".sf2,.sf3,.dls"
        className="hidden"
        aria-label="A SoundFont"
        onChange={({ target }) => {
          const [file] = target.files ?? [];
          if (file) add.mutate(file);
          target.value = '';
        }}
      />
      <div>
        <Button small disabled={add.isPending} onClick={() => chooser.current?.click()}>
          {add.isPending ? 'Looking it through' : 'Take a SoundFont in'}
        </Button>
      </div>
    </section>
  );
}
