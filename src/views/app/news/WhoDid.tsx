import { useQuery } from '@tanstack/react-query';
import { Users } from 'lucide-react';
import { Popover } from 'radix-ui';
import { useState } from 'react';
import { useLocation } from 'react-router';
import type { DeedTold } from '../../../server/people/deeds.ts';
import { Button } from '../../../ui/Button.tsx';
import { PopoverCard } from '../../../ui/PopoverCard.tsx';
import { request } from '../../api/client.ts';
import { useMe, type Wire } from '../../api/queries.ts';
import { DeedList } from '../../shared/editing/DeedList.tsx';

/** A take, a phrase, a weave or a basket at an address. */
const THING = /^\/(?:split|normalize|reuse\/weave|handoff)\/([0-9a-f-]{36})$/;

/** Who did what to the take, phrase, weave or basket that is looked at; nothing where nobody signs in. */
export function WhoDid() {
  const { pathname } = useLocation();
  const { data: me } = useMe();
  const id = THING.exec(pathname)?.[1];
  const [isOpen, setOpen] = useState(false);
  const { data: deeds } = useQuery({
    queryKey: ['deeds', id],
    enabled: isOpen && id !== undefined,
    queryFn: async () => (await request<{ deeds: Wire<DeedTold>[] }>(`/api/deeds/${id}`)).deeds,
  });
  if (!me?.person || !id) return null;
  return (
    <Popover.Root open={isOpen} onOpenChange={setOpen}>
      <Popover.Trigger asChild>
        <Button kind="quiet" className="px-2" aria-label="Who did what" title="Who did what">
          <Users size={15} aria-hidden="true" />
        </Button>
      </Popover.Trigger>
      <PopoverCard label="Who did what" className="max-h-80 w-80 overflow-auto">
        {deeds ? <DeedList deeds={deeds} /> : <p className="text-muted">Looking ...</p>}
      </PopoverCard>
    </Popover.Root>
  );
}
