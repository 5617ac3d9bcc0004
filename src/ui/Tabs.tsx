/** One of a few things that can be shown in one place. */
export function Tabs<Value extends string>({
  value,
  tabs,
  onValue,
}: {
  value: Value;
  tabs: readonly (readonly [Value, string])[];
  onValue: (value: Value) => void;
}) {
  return tabs.map(([one, title]) => (
    <button
      key={one}
      type="button"
      aria-pressed={one === value}
      className="-mb-px border-b-2 border-transparent pb-1 text-muted hover:text-ink aria-pressed:border-madder aria-pressed:font-bold aria-pressed:text-ink"
      onClick={() => onValue(one)}
    >
      {title}
    </button>
  ));
}
