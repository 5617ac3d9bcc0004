import { useCallback, useState } from 'react';

/** Where one was in a view, for as long as the window is open: coming back leads there. */
const places = new Map<string, unknown>();

/** State that outlasts its view, such as the row that was chosen. */
export function usePlace<Value>(name: string, initial: Value): [Value, (value: Value) => void] {
  const [value, setValue] = useState<Value>(() => (places.has(name) ? (places.get(name) as Value) : initial));
  const set = useCallback(
    (next: Value) => {
      places.set(name, next);
      setValue(next);
    },
    [name],
  );
  return [value, set];
}

/** How far something was scrolled, in pixels; 0 where nobody was. */
export function scrolledTo(name: string): number {
  return (places.get(`scroll ${name}`) as number | undefined) ?? 0;
}

export function rememberScroll(name: string, pixels: number): void {
  places.set(`scroll ${name}`, pixels);
}
