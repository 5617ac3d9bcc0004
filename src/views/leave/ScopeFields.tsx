import type { LeavingPlan } from '../../server/library/handoff/leaving.ts';
import { NumberField } from '../../ui/fields/NumberField.tsx';
import { RoleMark } from '../../ui/drawing/RoleMark.tsx';
import { SelectField } from '../../ui/fields/SelectField.tsx';
import type { Wire } from '../api/queries.ts';
import type { Role } from '../../core/split/roles.ts';
import type { Asked } from './asked.ts';

type Scope = Asked['scope'];

/** What of something leaves: its bars, or a section; its parts. */
export function ScopeFields({
  plan,
  scope,
  onChange,
}: {
  plan: Wire<LeavingPlan>;
  scope: Scope;
  onChange: (scope: Scope) => void;
}) {
  const { from, to } = scope.bars ?? { from: 1, to: plan.bars };
  const setBars = (first: number, last: number) =>
    onChange({
      ...scope,
      bars: first === 1 && last === plan.bars ? null : { from: first, to: Math.max(first, last) },
    });
  const section = plan.sections.findIndex((one) => one.from === from && one.to === to);
  return (
    <div className="grid gap-2">
      {plan.bars > 1 && (
        <div className="grid grid-cols-[1fr_1fr_1.4fr] gap-2">
          <NumberField
            label="From bar"
            min={1}
            max={plan.bars}
            value={from}
            onChange={(bar) => setBars(bar, to)}
          />
          <NumberField
            label="to bar"
            min={from}
            max={plan.bars}
            value={to}
            onChange={(bar) => setBars(from, bar)}
          />
          {plan.sections.length > 1 && (
            <SelectField
              label="or a section"
              value={section}
              onChange={(value) => {
                const one = plan.sections[Number(value)];
                setBars(one?.from ?? 1, one?.to ?? plan.bars);
              }}
            >
              <option value={-1}>all of it</option>
              {plan.sections.map((one, i) => (
                <option key={`${one.from} ${one.name}`} value={i}>
                  {one.name}, bar {one.from}
                </option>
              ))}
            </SelectField>
          )}
        </div>
      )}
      {plan.parts.length > 1 && <Parts plan={plan} scope={scope} onChange={onChange} />}
    </div>
  );
}

function Parts({
  plan,
  scope,
  onChange,
}: {
  plan: Wire<LeavingPlan>;
  scope: Scope;
  onChange: (scope: Scope) => void;
}) {
  const all = plan.parts.map(({ id }) => id);
  const chosen = new Set(scope.parts ?? all);
  const toggle = (id: string) => {
    const next = all.filter((one) => (one === id ? !chosen.has(id) : chosen.has(one)));
    onChange({ ...scope, parts: next.length === all.length ? null : next });
  };
  return (
    <fieldset className="max-h-29 overflow-auto rounded-[3px] border border-rule px-2 py-1">
      <legend className="label px-1">Parts</legend>
      {plan.parts.map(({ id, name, role }) => (
        <label key={id} className="flex min-h-6 cursor-pointer items-center gap-2 text-sm">
          <input type="checkbox" checked={chosen.has(id)} onChange={() => toggle(id)} />
          <RoleMark role={role as Role} bare />
          <span className="truncate">{name}</span>
        </label>
      ))}
    </fieldset>
  );
}
