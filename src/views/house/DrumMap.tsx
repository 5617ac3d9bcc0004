import type { House } from '../../core/normalize/house.ts';
import { KeyPairs } from '../shared/KeyPairs.tsx';
import type { SetHouse } from './set-house.ts';

/** Which keys of the kit are kept as which others: one drum map for the whole library, General MIDI's where nothing is said. */
export function DrumMap({ pairs, set }: { pairs: House['drumMap']; set: SetHouse }) {
  return (
    <section aria-label="Drum map" className="grid gap-1">
      <h2 className="text-lg">Drum map</h2>
      {pairs.length === 0 && (
        <p className="text-sm text-muted">Kits stand on the keys of General MIDI, all of them as played.</p>
      )}
      <KeyPairs
        pairs={pairs}
        between="kept as"
        add="Keep a key as another"
        onChange={(drumMap) => set((old) => ({ ...old, drumMap }), 'drum map')}
      />
    </section>
  );
}
