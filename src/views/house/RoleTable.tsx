import { pitchName } from '../../core/music/pitch.ts';
import type { House, RoleStandard } from '../../core/normalize/house.ts';
import { ROLES, type Role } from '../../core/split/roles.ts';
import { BoundedInput } from '../../ui/fields/BoundedInput.tsx';
import { RoleMark } from '../../ui/drawing/RoleMark.tsx';
import type { SetHouse } from './set-house.ts';

const NUMBER = 'field h-6 w-18 text-right';

const PITCHES = Array.from({ length: 128 }, (_, pitch) => pitch);

/** What is kept of each role: its level, range, octaves, and how early its sound is played. */
export function RoleTable({ house, set }: { house: House; set: SetHouse }) {
  const change = (role: Role, of: Partial<RoleStandard>, what: string) =>
    set(
      (old) => ({ ...old, roles: { ...old.roles, [role]: { ...old.roles[role], ...of } } }),
      `${what} of ${role}`,
    );
  return (
    <section aria-label="Roles">
      <h2 className="mb-1 text-lg">By role</h2>
      <div className="overflow-x-auto">
        <table className="w-full border-collapse">
          <thead>
            <tr className="border-b border-rule text-left text-sm text-muted">
              <th className="py-1 font-normal">Role</th>
              <th className="font-normal" title="Where the loud notes (95th percentile) land">
                Loud at
              </th>
              <th className="font-normal" title="Factor on the distance from the loud notes">
                Range ×
              </th>
              <th className="font-normal">Octaves</th>
              <th className="font-normal" title="Negative is earlier: for sounds that speak late">
                Played, ms
              </th>
            </tr>
          </thead>
          <tbody>
            {ROLES.map((role) => (
              <RoleRow
                key={role}
                role={role}
                standard={house.roles[role]}
                onChange={(of, what) => change(role, of, what)}
              />
            ))}
          </tbody>
        </table>
      </div>
    </section>
  );
}

function RoleRow({
  role,
  standard,
  onChange,
}: {
  role: Role;
  standard: RoleStandard;
  onChange: (of: Partial<RoleStandard>, what: string) => void;
}) {
  const { loud, range, register, shiftMs } = standard;
  return (
    <tr className="border-b border-thread">
      <td className="py-[3px] pr-3">
        <RoleMark role={role} />
      </td>
      <td className="whitespace-nowrap">
        <span className="flex items-center gap-1.5">
          <BoundedInput
            className={NUMBER}
            label={`Loud at, ${role}`}
            value={Math.round(loud * 100)}
            min={5}
            max={100}
            onValue={(percent) => onChange({ loud: percent / 100 }, 'level')}
          />
          <span className="text-sm text-muted">% = {Math.round(loud * 127)}</span>
        </span>
      </td>
      <td>
        <BoundedInput
          className={NUMBER}
          label={`Range, ${role}`}
          value={range}
          min={0}
          max={4}
          step={0.1}
          onValue={(value) => onChange({ range: value }, 'range')}
        />
      </td>
      <td className="whitespace-nowrap">
        {register ? (
          <span className="flex items-center gap-1">
            <PitchChoice
              label={`Lowest, ${role}`}
              value={register.low}
              pitches={PITCHES.slice(0, register.high - 10)}
              onValue={(low) => onChange({ register: { ...register, low } }, 'octaves')}
            />
            <span className="text-sm text-muted">to</span>
            <PitchChoice
              label={`Highest, ${role}`}
              value={register.high}
              pitches={PITCHES.slice(register.low + 11)}
              onValue={(high) => onChange({ register: { ...register, high } }, 'octaves')}
            />
          </span>
        ) : (
          <span className="text-sm text-muted">as played</span>
        )}
      </td>
      <td>
        <BoundedInput
          className={NUMBER}
          label={`Played, ${role}`}
          value={shiftMs}
          min={-1000}
          max={1000}
          onValue={(ms) => onChange({ shiftMs: ms }, 'shift')}
        />
      </td>
    </tr>
  );
}

function PitchChoice({
  label,
  value,
  pitches,
  onValue,
}: {
  label: string;
  value: number;
  pitches: readonly number[];
  onValue: (pitch: number) => void;
}) {
  return (
    <select
      aria-label={label}
      className="field h-6 w-18"
      value={value}
      onChange={({ target }) => onValue(Number(target.value))}
    >
      {pitches.map((pitch) => (
        <option key={pitch} value={pitch}>
          {pitchName(pitch)}
        </option>
      ))}
    </select>
  );
}
