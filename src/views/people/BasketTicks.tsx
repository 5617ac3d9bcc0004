import { useBaskets } from '../api/queries.ts';
import { Checkbox } from '../../ui/fields/Checkbox.tsx';

/** Which baskets a guest sees. */
export function BasketTicks({
  label,
  chosen,
  onChange,
}: {
  label: string;
  chosen: readonly string[];
  onChange: (ids: string[]) => void;
}) {
  const { data: baskets = [] } = useBaskets();
  const set = (id: string, on: boolean) =>
    onChange(on ? [...chosen, id] : chosen.filter((one) => one !== id));
  return (
    <fieldset>
      <legend className="label mb-1">{label}</legend>
      <div className="flex max-h-48 flex-col gap-1 overflow-auto">
        {baskets.map(({ id, name }) => (
          <Checkbox key={id} label={name} on={chosen.includes(id)} onChange={(on) => set(id, on)} />
        ))}
        {baskets.length === 0 && <p className="text-sm text-muted">There is no basket yet.</p>}
      </div>
    </fieldset>
  );
}
