import { AppWindow } from 'lucide-react';
import { Popover } from 'radix-ui';
import { Link, useLocation } from 'react-router';
import { Button } from '../../ui/Button.tsx';
import { PopoverCard } from '../../ui/PopoverCard.tsx';
import { useMe } from '../api/queries.ts';
import { signOut } from '../people/door/coming-in.ts';
import { useElsewhere } from './news/news.ts';

/** Who is signed in, who else is here and where, and the way to the people; nothing where nobody signs in. */
export function PersonMenu() {
  const { data: me } = useMe();
  if (!me?.person) return null;
  const { name, role } = me.person;
  return (
    <Popover.Root>
      <Popover.Trigger asChild>
        <Button kind="quiet" className="max-w-32 px-2" title={`Signed in as ${name}`}>
          <span className="truncate">{name}</span>
        </Button>
      </Popover.Trigger>
      <PopoverCard label="People" className="w-64">
        <p className="font-bold">{name}</p>
        <p className="mb-2 text-sm text-muted">{role}</p>
        <Others />
        <div className="mt-2 flex gap-2">
          <Popover.Close asChild>
            <Link
              to="/people"
              className="flex h-8 items-center rounded-[3px] border border-rule px-3 hover:border-ink"
            >
              People
            </Link>
          </Popover.Close>
          <Button onClick={() => void signOut()}>Sign out</Button>
        </div>
      </PopoverCard>
    </Popover.Root>
  );
}

function Others() {
  const { data: me } = useMe();
  const windows = useElsewhere((one) => one.windows).filter(({ by }) => by && by !== me?.person?.name);
  if (windows.length === 0) return <p className="text-sm text-muted">Nobody else is here now.</p>;
  return (
    <ul className="text-sm">
      {windows.map(({ window, by, path }) => (
        <li key={window}>
          <Popover.Close asChild>
            <Link to={path || '/'} className="underline decoration-rule hover:decoration-ink">
              {by}
            </Link>
          </Popover.Close>{' '}
          <span className="text-muted">{placeWords(path)}</span>
        </li>
      ))}
    </ul>
  );
}

const PLACES: readonly [RegExp, string][] = [
  [/^\/split\/./, 'at a take'],
  [/^\/normalize\/./, 'at a phrase'],
  [/^\/reuse\/weave\/./, 'at a weave'],
  [/^\/handoff\/came-back/, 'at what came back'],
  [/^\/handoff\/./, 'at a basket'],
  [/^\/capture/, 'capturing'],
  [/^\/library/, 'in the library'],
];

function placeWords(path: string): string {
  return PLACES.find(([where]) => where.test(path))?.[1] ?? 'looking around';
}

/** Who looks at the same thing just now, quietly: nothing where one is alone. */
export function WhoElse() {
  const { pathname } = useLocation();
  const { data: me } = useMe();
  const windows = useElsewhere((one) => one.windows);
  const here = windows.filter(({ path }) => path === pathname && /\/[0-9a-f-]{36}$/.test(path));
  if (here.length === 0) return null;
  const names = [...new Set(here.map(({ by }) => by))].filter((by) => by && by !== me?.person?.name);
  const said = hereWords(names);
  return (
    <span className="flex items-center px-1" role="status" title={said}>
      <span className="sr-only">{said}</span>
      {names.length === 0 ? (
        <AppWindow size={15} aria-hidden="true" className="text-muted" />
      ) : (
        names.slice(0, MOST_SHOWN).map((name) => (
          <span
            key={name}
            aria-hidden="true"
            className="-ml-1 flex size-6 items-center justify-center rounded-full border border-rule bg-card text-xs first:ml-0"
          >
            {initials(name)}
          </span>
        ))
      )}
    </span>
  );
}

/** There is room for so many; all of them stand in the words. */
const MOST_SHOWN = 3;

function initials(name: string): string {
  const words = name.split(/\s+/).filter((word) => !/^(the|a)$/i.test(word));
  return words
    .slice(0, 2)
    .map((word) => [...word][0]!.toUpperCase())
    .join('');
}

function hereWords(names: readonly string[]): string {
  if (names.length === 0) return 'Open in another window too';
  if (names.length === 1) return `${names[0]} is here too`;
  return `${names.slice(0, -1).join(', ')} and ${names.at(-1)} are here too`;
}
