import { MOST_BARS, type WrittenChanges } from './sounding.ts';

/** Changes as a chart where one can say them: each bar's chords share its beats. Else as the list they are. */
export function asChart(changes: WrittenChanges, beatsPerBar: number): WrittenChanges {
  if (typeof changes === 'string' || changes.length === 0) return changes;
  const bars = Math.min(
    MOST_BARS,
    Math.ceil(Math.max(...changes.map(({ beat, beats }) => beat + beats)) / beatsPerBar - 1e-6),
  );
  const text: string[] = [];
  for (let bar = 0; bar < bars; bar++) {
    const from = bar * beatsPerBar;
    const within = changes
      .map(({ beat, beats, symbol }) => ({
        from: Math.max(from, beat) - from,
        to: Math.min(from + beatsPerBar, beat + beats) - from,
        symbol: symbol || 'N.C.',
      }))
      .filter((one) => one.to - one.from > 1e-6);
    const slots = [1, 2, 3, 4, beatsPerBar].find((count) => {
      const step = beatsPerBar / count;
      return (
        count <= beatsPerBar && within.every((one) => isMultiple(one.from, step) && isMultiple(one.to, step))
      );
    });
    const covered = within.reduce((sum, one) => sum + one.to - one.from, 0);
    if (!slots || Math.abs(covered - beatsPerBar) > 1e-6) return changes;
    const step = beatsPerBar / slots;
    text.push(
      Array.from({ length: slots }, (_, k) => within.find((one) => one.to > k * step + 1e-6)!.symbol).join(
        ' ',
      ),
    );
  }
  return text.join(' | ');
}

function isMultiple(value: number, step: number): boolean {
  return Math.abs(value / step - Math.round(value / step)) < 1e-6;
}
