import { X } from 'lucide-react';
import type { Card, RoleCard } from '../../core/exchange/card.ts';
import { pitchName } from '../../core/music/pitch.ts';
import { ROLES, type Role } from '../../core/split/roles.ts';
import { NumberInput } from '../../ui/fields/NumberInput.tsx';
import { ProgramOptions } from '../../ui/fields/ProgramOptions.tsx';
import { RoleMark } from '../../ui/drawing/RoleMark.tsx';
import type { SetCard } from './set-card.ts';

/** A number on the card as it is shown: percent for shares, channels and programs from 1. */
interface Column {
  field: Exclude<keyof RoleCard, 'program' | 'low' | 'high'>;
  title: string;
  help: string;
  min: number;
  max: number;
  step?: number;
  shown: (value: number) => number;
  kept: (shown: number) => number;
}

const same = (value: number) => value;

const COLUMNS: readonly Column[] = [
  {
    ...{ field: 'loud', title: 'Loud at, %', help: 'Where the loud notes land', min: 5, max: 100 },
    shown: (share) => Math.round(share * 100),
    kept: (percent) => percent / 100,
  },
  {
    ...{ field: 'range', title: 'Range ×', help: 'Factor on the distance from the loud notes' },
    ...{ min: 0, max: 4, step: 0.05, shown: same, kept: same },
  },
  {
    ...{ field: 'ms', title: 'Played, ms', help: 'Negative is earlier: for sounds that speak late' },
    ...{ min: -1000, max: 1000, shown: same, kept: same },
  },
  {
    ...{
      field: 'length',
      title: 'Length, %',
      help: 'How long notes are, of what they were',
      min: 5,
      max: 400,
    },
    shown: (factor) => Math.round(factor * 100),
    kept: (percent) => percent / 100,
  },
  { ...{ field: 'octave', title: 'Octave', help: 'Up or down', min: -4, max: 4, shown: same, kept: same } },
  {
    ...{ field: 'channel', title: 'Channel', help: 'From 1', min: 1, max: 16 },
    shown: (channel) => channel + 1,
    kept: (channel) => channel - 1,
  },
  {
    ...{ field: 'volume', title: 'Volume', help: 'Controller 7', min: 0, max: 127, shown: same, kept: same },
  },
  {
    ...{ field: 'pan', title: 'Place', help: 'Controller 10: 0 is left, 64 the middle, 127 right' },
    ...{ min: 0, max: 127, shown: same, kept: same },
  },
];

/** What each role needs at somebody's place. An empty field leaves it as it is. */
export function CardRoles({ card, set }: { card: Card; set: SetCard }) {
  const there = ROLES.filter((role) => card.roles[role]);
  const put = (role: Role, change: RoleCard | null, what: string) =>
    set((old) => {
      const { [role]: now, ...others } = old.roles;
      return { ...old, roles: change ? { ...others, [role]: withoutEmpty({ ...now, ...change }) } : others };
    }, `${what} of ${role}`);
  return (
    <section aria-label="By role">
      <h2 className="mb-1 text-lg">By role</h2>
      {there.length > 0 && (
        <div className="overflow-x-auto">
          <table className="border-collapse text-sm">
            <thead>
              <tr className="border-b border-rule text-left text-muted [&>th]:pr-2 [&>th]:font-normal">
                <th className="py-1">Role</th>
                {COLUMNS.map(({ field, title, help }) => (
                  <th key={field} title={help}>
                    {title}
                  </th>
                ))}
                <th>Lowest</th>
                <th>Highest</th>
                <th>Sound</th>
                <th />
              </tr>
            </thead>
            <tbody>
              {there.map((role) => (
                <RoleLine
                  key={role}
                  role={role}
                  of={card.roles[role]!}
                  onChange={(change, what) => put(role, change, what)}
                />
              ))}
            </tbody>
          </table>
        </div>
      )}
      <select
        className="field mt-2 h-7 w-48"
        aria-label="Add a role to the card"
        value=""
        onChange={({ target }) => put(target.value as Role, {}, 'the line')}
      >
        <option value="">Add a role</option>
        {ROLES.filter((role) => !card.roles[role]).map((role) => (
          <option key={role} value={role}>
            {role}
          </option>
        ))}
      </select>
    </section>
  );
}

/** What is undefined is not said. */
function withoutEmpty(card: RoleCard): RoleCard {
  return Object.fromEntries(Object.entries(card).filter(([, value]) => value !== undefined));
}

function RoleLine({
  role,
  of,
  onChange,
}: {
  role: Role;
  of: RoleCard;
  onChange: (change: RoleCard | null, what: string) => void;
}) {
  const put = (field: keyof RoleCard, value: number | null | undefined) =>
    onChange({ [field]: value } as RoleCard, field);
  return (
    <tr className="border-b border-thread [&>td]:py-[3px] [&>td]:pr-2">
      <td className="pr-3">
        <RoleMark role={role} />
      </td>
      {COLUMNS.map(({ field, title, min, max, step, shown, kept }) => (
        <td key={field}>
          <NumberInput
            className="field h-6 w-15 text-right"
            aria-label={`${title}, ${role}`}
            value={of[field] === undefined ? null : shown(of[field])}
            min={min}
            max={max}
            step={step ?? 1}
            empty="–"
            onValue={(value) => put(field, value === null ? undefined : kept(value))}
          />
        </td>
      ))}
      {(['low', 'high'] as const).map((end) => (
        <td key={end}>
          <select
            className="field h-6 w-16"
            aria-label={`${end === 'low' ? 'Lowest' : 'Highest'} note, ${role}`}
            value={of[end] ?? ''}
            onChange={({ target }) => put(end, target.value === '' ? undefined : Number(target.value))}
          >
            <option value="">–</option>
            {PITCHES.filter((pitch) =>
              end === 'low' ? pitch < (of.high ?? 128) : pitch > (of.low ?? -1),
            ).map((pitch) => (
              <option key={pitch} value={pitch}>
                {pitchName(pitch)}
              </option>
            ))}
          </select>
        </td>
      ))}
      <td>
        <select
          className="field h-6 w-30"
          aria-label={`Sound, ${role}`}
          value={of.program ?? ''}
          onChange={({ target }) => put('program', target.value === '' ? undefined : Number(target.value))}
        >
          <option value="">as suggested</option>
          <ProgramOptions />
        </select>
      </td>
      <td>
        <button
          type="button"
          aria-label={`Take ${role} off the card`}
          className="flex size-6 items-center justify-center rounded-[3px] text-muted hover:bg-sunk hover:text-ink"
          onClick={() => onChange(null, 'the line')}
        >
          <X size={13} />
        </button>
      </td>
    </tr>
  );
}

const PITCHES = Array.from({ length: 128 }, (_, pitch) => pitch);
