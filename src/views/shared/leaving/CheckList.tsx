import { Link } from 'react-router';
import type { Check } from '../../../core/exchange/checks.ts';
import { plural } from '../../../core/words.ts';

/** Something that was looked at before it leaves; `check` groups what is alike. */
export type Told = Pick<Check, 'state' | 'text' | 'id'> & { check: string };

/** What the other person would stumble over: what stops it first, then what is to be known, then what is well. */
export function CheckList({ checks }: { checks: readonly Told[] }) {
  const groups = [...new Set(checks.map(({ check, state }) => `${check} ${state}`))].map((name) =>
    checks.filter(({ check, state }) => `${check} ${state}` === name),
  );
  const open = groups.filter(([first]) => first!.state !== 'pass');
  const passed = groups.filter(([first]) => first!.state === 'pass').flat();
  return (
    <>
      <ul className="grid gap-1 text-sm">
        {open.map((group) => (
          <Found key={`${group[0]!.check} ${group[0]!.state}`} group={group} />
        ))}
      </ul>
      {passed.length > 0 && (
        <details className="mt-1 text-sm">
          <summary className="min-h-6 cursor-pointer text-muted">
            <span className="text-good" aria-hidden="true">
              ✓
            </span>{' '}
            {plural(passed.length, 'check')} passed
          </summary>
          <ul className="grid gap-0.5 pl-4 text-muted">
            {passed.map(({ check, text }) => (
              <li key={check}>{text}</li>
            ))}
          </ul>
        </details>
      )}
    </>
  );
}

/** Alike findings together: the first, and the others behind it. */
function Found({ group }: { group: readonly Told[] }) {
  const [first, ...others] = group as [Told, ...Told[]];
  const stops = first.state === 'stop';
  return (
    <li className="flex gap-1.5">
      <span className="text-madder" aria-hidden="true">
        {stops ? '×' : '!'}
      </span>
      <span className="min-w-0">
        {stops && <b>Stops it. </b>}
        <Line one={first} />
        {others.length > 0 && (
          <details>
            <summary className="min-h-6 cursor-pointer text-muted">and {others.length} more</summary>
            <ul className="max-h-40 overflow-auto">
              {others.map((one) => (
                <li key={`${one.id} ${one.text}`}>
                  <Line one={one} />
                </li>
              ))}
            </ul>
          </details>
        )}
      </span>
    </li>
  );
}

function Line({ one }: { one: Told }) {
  return (
    <>
      {one.text}{' '}
      {one.id && (
        <Link className="underline" to={`/normalize/${one.id}`}>
          Open it
        </Link>
      )}
    </>
  );
}
