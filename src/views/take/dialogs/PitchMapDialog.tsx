import { useMemo, useState } from 'react';
import type { Take } from '../../../core/capture/take.ts';
import { drumName, GM_DRUM_RANGE } from '../../../core/midi/gm.ts';
import { pitchName } from '../../../core/music/pitch.ts';
import { guessDrumMap } from '../../../core/split/drum-map.ts';
import type { Move } from '../../../core/split/moves.ts';
import { soundingPitch, type PitchPair } from '../../../core/split/split.ts';
import { Button } from '../../../ui/Button.tsx';
import { Dialog } from '../../../ui/Dialog.tsx';
import type { Strand } from '../../shared/takes/strand-columns.ts';

const DRUMS = Array.from(
  { length: GM_DRUM_RANGE.high - GM_DRUM_RANGE.low + 1 },
  (_, i) => GM_DRUM_RANGE.low + i,
);

/** Which captured pitches sound as which pieces of the General MIDI kit. */
export function PitchMapDialog({
  take,
  strand: { part, indices },
  onClose,
  onMove,
}: {
  take: Take;
  strand: Strand;
  onClose: () => void;
  onMove: (move: Move) => void;
}) {
  const [pairs, setPairs] = useState<readonly PitchPair[]>(part.pitchMap);
  const captured = useMemo(() => hitsByPitch(take, indices), [take, indices]);
  const guess = useMemo(() => guessDrumMap(take, indices), [take, indices]);
  const set = (from: number, to: number) =>
    setPairs((now) => [
      ...now.filter(([pitch]) => pitch !== from),
      ...(to === from ? [] : [[from, to] as const]),
    ]);
  return (
    <Dialog
      open
      onOpenChange={(open) => !open && onClose()}
      title={`Drum map of "${part.name}"`}
      description="What was captured stays; so it sounds here, and leaves."
    >
      <form
        className="grid gap-3"
        onSubmit={(event) => {
          event.preventDefault();
          onMove({ move: 'pitchMap', part: part.id, pairs: [...pairs] });
          onClose();
        }}
      >
        <table className="w-full">
          <thead className="text-left text-sm text-muted">
            <tr>
              <th className="font-normal">Captured</th>
              <th className="text-right font-normal">Hits</th>
              <th className="pl-4 font-normal">Sounds as</th>
            </tr>
          </thead>
          <tbody>
            {captured.map(([pitch, hits]) => (
              <tr key={pitch} className="border-t border-thread">
                <td>
                  {pitchName(pitch)} <span className="text-muted">{drumName(pitch) ?? 'off the map'}</span>
                </td>
                <td className="text-right">{hits}</td>
                <td className="py-0.5 pl-4">
                  <select
                    className="field w-full"
                    aria-label={`${pitchName(pitch)} sounds as`}
                    value={soundingPitch(pairs, pitch)}
                    onChange={(event) => set(pitch, Number(event.target.value))}
                  >
                    {!DRUMS.includes(pitch) && <option value={pitch}>as captured</option>}
                    {DRUMS.map((drum) => (
                      <option key={drum} value={drum}>
                        {drumName(drum)}
                      </option>
                    ))}
                  </select>
                </td>
              </tr>
            ))}
          </tbody>
        </table>
        <div className="flex gap-2">
          <Button
            disabled={guess.length === 0}
            onClick={() => setPairs(guess)}
            title="By where the hits fall in the bar"
          >
            Guess
          </Button>
          <Button disabled={pairs.length === 0} onClick={() => setPairs([])}>
            As captured
          </Button>
          <Button kind="primary" type="submit" className="ml-auto">
            Set
          </Button>
        </div>
      </form>
    </Dialog>
  );
}

function hitsByPitch(take: Take, indices: readonly number[]): [pitch: number, hits: number][] {
  const hits = new Map<number, number>();
  for (const i of indices) hits.set(take.notes.pitch[i]!, (hits.get(take.notes.pitch[i]!) ?? 0) + 1);
  return [...hits].sort((a, b) => a[0] - b[0]);
}
