import { useMutation, useQuery } from '@tanstack/react-query';
import { Download, Play, Square, Undo2 } from 'lucide-react';
import { useRef } from 'react';
import { toast } from 'sonner';
import { plural } from '../../core/words.ts';
import type { Clip } from '../../core/phrase/clip.ts';
import type { SharedBasket } from '../../server/people/guests.ts';
import { toggleListening, usePlayer } from '../../sound/player.ts';
import { Button } from '../../ui/Button.tsx';
import { Busy, EmptyState } from '../../ui/EmptyState.tsx';
import { saveFile } from '../../ui/save-file.ts';
import { Swatch } from '../../ui/drawing/Swatch.tsx';
import { Mark } from '../../ui/drawing/Mark.tsx';
import { request, requestFile } from '../api/client.ts';
import { tellProblem, useMe } from '../api/queries.ts';
import { ThemeSwitch } from '../shared/ThemeSwitch.tsx';
import { signOut } from './door/coming-in.ts';

/** What a guest has of the library: the baskets that were chosen for them, to be heard, taken, and answered. */
export default function GuestView() {
  const { data: me } = useMe();
  const { data, error } = useQuery({
    queryKey: ['shared'],
    queryFn: () => request<{ baskets: SharedBasket[] }>('/api/shared'),
  });
  return (
    <div className="grid h-dvh grid-rows-[57px_minmax(0,1fr)]">
      <header className="flex items-center gap-3 border-b border-rule px-5">
        <Mark />
        <span className="flex-1 font-display text-lg font-semibold">Hollow Basket</span>
        <span className="text-muted">{me?.person?.name}</span>
        <ThemeSwitch />
        <Button onClick={() => void signOut()}>Sign out</Button>
      </header>
      <main id="view" className="flex overflow-auto">
        {error && <EmptyState title="Your baskets could not be loaded">{error.message}</EmptyState>}
        {!data && !error && <Busy what="Looking for your baskets" />}
        {data?.baskets.length === 0 && (
          <EmptyState title="Nothing was chosen for you yet">
            Whoever let you in chooses baskets for you; they appear here by themselves.
          </EmptyState>
        )}
        {data && data.baskets.length > 0 && (
          <div className="mx-auto w-full max-w-4xl px-5 pb-10">
            <h1 className="sr-only">Your baskets</h1>
            {data.baskets.map((basket) => (
              <GuestBasket key={basket.id} basket={basket} />
            ))}
          </div>
        )}
      </main>
    </div>
  );
}

function GuestBasket({ basket }: { basket: SharedBasket }) {
  const { id, name, project, phrases } = basket;
  const chooser = useRef<HTMLInputElement>(null);
  const take = useMutation({
    mutationFn: () => requestFile(`/api/baskets/${id}/pack`),
    onSuccess: ({ bytes, name: file, type }) => saveFile(bytes, file, type),
    onError: tellProblem,
  });
  const answer = useMutation({
    mutationFn: (file: File) => {
      const body = new FormData();
      body.set('file', file);
      return request(`/api/baskets/${id}/answer`, { method: 'POST', body });
    },
    onSuccess: () => toast('Sent back. It waits until somebody here has looked at it.'),
    onError: tellProblem,
  });
  return (
    <section aria-label={name} className="pt-6">
      <div className="flex items-end gap-3 border-b border-rule pb-2">
        <div className="min-w-0 flex-1">
          <h2 className="truncate text-xl">{name}</h2>
          <p className="text-sm text-muted">
            {project && `${project}, `}
            {plural(phrases.length, 'phrase')}
          </p>
        </div>
        <Button
          kind="primary"
          disabled={phrases.length === 0 || take.isPending}
          onClick={() => take.mutate()}
        >
          <Download size={15} aria-hidden="true" /> {take.isPending ? 'Packing' : 'Take it as a pack'}
        </Button>
        <Button disabled={answer.isPending} onClick={() => chooser.current?.click()}>
          <Undo2 size={15} aria-hidden="true" /> {answer.isPending ? 'Sending' : 'Send a pack back'}
        </Button>
        <input
          ref={chooser}
          type="file"
          accept=".zip,application/zip"
          className="sr-only"
          aria-label={`A pack to be sent back for ${name}`}
          tabIndex={-1}
          onChange={({ target }) => {
            const file = target.files?.[0];
            if (file) answer.mutate(file);
            target.value = '';
          }}
        />
      </div>
      <ul>
        {phrases.map((phrase) => (
          <GuestPhrase key={phrase.id} basketId={id} phrase={phrase} />
        ))}
      </ul>
      {phrases.length === 0 && <p className="py-3 text-muted">Nothing is in it yet.</p>}
    </section>
  );
}

function GuestPhrase({ basketId, phrase }: { basketId: string; phrase: SharedBasket['phrases'][number] }) {
  const { id, name, role, bars, bpm, swatch, file } = phrase;
  const listening = `shared ${id}`;
  const sounds = usePlayer((player) => player.state === 'playing' && player.listening?.id === listening);
  const Icon = sounds ? Square : Play;
  const hear = () =>
    request<{ name: string; clip: Clip }>(`/api/baskets/${basketId}/heard?phrase=${id}`)
      .then(({ clip }) =>
        toggleListening({ id: listening, title: name, subtitle: role, lanes: [{ id, clip }] }),
      )
      .catch(tellProblem);
  return (
    <li className="quiet-row flex items-center gap-4 px-1 py-1.5 hover:bg-card">
      <Button
        kind="quiet"
        className="px-2"
        aria-label={`${sounds ? 'Stop' : 'Hear'} ${name}`}
        onClick={() => void hear()}
      >
        <Icon size={14} aria-hidden="true" fill="currentColor" />
      </Button>
      <Swatch notes={swatch} role={role} bars={bars} width={150} height={30} />
      <span className="min-w-0 flex-1">
        <span className="block truncate">{name}</span>
        <span className="block truncate text-xs text-muted">{file}</span>
      </span>
      <span className="w-20 text-right text-sm text-muted">{plural(bars, 'bar')}</span>
      <span className="w-20 text-right text-sm text-muted">{Math.round(bpm * 10) / 10} BPM</span>
    </li>
  );
}
