import { useMutation } from '@tanstack/react-query';
import { AudioLines, FileUp, LibraryBig, Usb } from 'lucide-react';
import { useState, type ReactNode } from 'react';
import { Link } from 'react-router';
import { plural } from '../../core/words.ts';
import { sendJson } from '../api/client.ts';
import { tellProblem, useStages } from '../api/queries.ts';

const CARD = 'flex h-full gap-3 rounded border border-rule bg-card p-3 text-left hover:border-ink';
const DEMO_ICON = <LibraryBig size={18} aria-hidden="true" />;

/** What an empty library says first: the ways in. */
export function FirstSteps() {
  const { data: stages } = useStages();
  const [demo, setDemo] = useState<string>();
  const open = useMutation({
    mutationFn: () => sendJson<{ address: string }>('POST', '/api/demo'),
    onError: tellProblem,
    onSuccess: ({ address }) => setDemo(address),
  });
  const hasTakes = (stages?.capture ?? 0) > 0;
  return (
    <div className="m-auto grid max-w-2xl gap-4 p-6">
      <div>
        <h2 className="mb-1 text-xl">Nothing is kept yet</h2>
        <p className="text-muted">
          {hasTakes
            ? `${plural(stages!.capture, 'take')} ${stages!.capture === 1 ? 'waits' : 'wait'}: cut the bars worth keeping out, and they stand here.`
            : 'This library is yours, and empty. What your generators play is taken apart by instrument; the bars worth keeping stand here.'}
        </p>
      </div>
      <ul className="grid grid-cols-2 gap-3 narrow:grid-cols-1">
        <Way
          icon={<FileUp size={18} aria-hidden="true" />}
          to="/capture"
          title="Take in MIDI files"
          words="Drop files, folders or ZIPs anywhere in this window, or choose them."
        />
        <Way
          icon={<Usb size={18} aria-hidden="true" />}
          to="/capture/live"
          title="Record a device"
          words="What it plays is kept from the first note, also what you forgot to record."
        />
        <Way
          icon={<AudioLines size={18} aria-hidden="true" />}
          to="/capture/live?source=band"
          title="Try a stand-in"
          words="Six simulated devices ship with it; the band plays a chart that you type."
        />
        {hasTakes ? (
          <Way
            icon={<LibraryBig size={18} aria-hidden="true" />}
            to="/split"
            title="Go to your takes"
            words="Those that no phrase was made of yet."
          />
        ) : (
          <li>
            {demo ? (
              <a className={CARD} href={demo} target="_blank" rel="noreferrer">
                <Words
                  icon={DEMO_ICON}
                  title="Go to the demo"
                  words={`It is open at ${demo}, in a window of its own.`}
                />
              </a>
            ) : (
              <button
                type="button"
                className={`${CARD} w-full disabled:opacity-60`}
                onClick={() => open.mutate()}
                disabled={open.isPending}
              >
                <Words
                  icon={DEMO_ICON}
                  title="Look at the demo"
                  words={
                    open.isPending
                      ? 'Opening it; the first time takes a while.'
                      : 'Three shows of a puppet theater, in a library of its own beside yours.'
                  }
                />
              </button>
            )}
          </li>
        )}
      </ul>
      {stages && (
        <p className="text-sm text-muted">
          Your library lies in{' '}
          <code className="rounded-[2px] bg-sunk px-1 break-all text-ink">{stages.folder}</code>.
        </p>
      )}
    </div>
  );
}

interface Told {
  icon: ReactNode;
  title: string;
  words: string;
}

function Way({ to, ...told }: Told & { to: string }) {
  return (
    <li>
      <Link to={to} className={CARD}>
        <Words {...told} />
      </Link>
    </li>
  );
}

function Words({ icon, title, words }: Told) {
  return (
    <>
      <span className="mt-0.5 flex-none">{icon}</span>
      <span className="min-w-0">
        <b className="block font-display">{title}</b>
        <span className="text-sm break-words text-muted">{words}</span>
      </span>
    </>
  );
}
