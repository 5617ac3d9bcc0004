import { barTicks, barStart } from '../music/timeline.ts';
import type { Clip } from '../phrase/clip.ts';
import { packSwatch } from '../phrase/swatch.ts';
import type { Key } from '../music/key.ts';
import { UNPITCHED } from '../split/roles.ts';
import type { Cell, Cells } from './grid.ts';
import type { Joined } from './join.ts';
import type { Aligned, Pass } from './passes.ts';
import { pitchOf, type Row } from './rows.ts';

/** Some bars (from 0, the last included) of what was joined, as clips that can be gone round: a clip for each row that plays. */
export function clipsOf(
  joined: Joined,
  rows: readonly Row[],
  { meter }: Pick<Aligned, 'meter'>,
  { from, to, key }: { from: number; to: number; key: Key | null },
): { row: number; clip: Clip }[] {
  const bar = barTicks(joined.timeline.ppq, meter);
  const length = (to - from + 1) * bar;
  const isWhole = from === 0 && joined.lead > 0;
  const pickup = isWhole ? joined.lead : 0;
  const start = joined.lead + from * bar - pickup;
  const end = joined.lead + (to + 1) * bar;
  return joined.rows.flatMap(({ row, notes, controls }) => {
    const own = notes.filter(({ tick, duration }) => tick < end && tick + duration > start);
    if (own.length === 0) return [];
    const { role, channel, program } = rows[row]!;
    const clip: Clip = {
      timeline: joined.timeline,
      ...{ length: length + pickup, pickup, role, channel, program, locked: [] },
      // What begins a little ahead of the first line is heard at the end of the round.
      notes: own.map(({ tick, duration, pitch, velocity, release, origin }) => {
        const at = tick - start;
        return { tick: at < 0 ? at + length : at, duration, pitch, velocity, release, origin };
      }),
      controls: controls
        .filter(({ tick }) => tick < end)
        .map((control) => ({ ...control, tick: Math.max(0, control.tick - start) })),
      key: UNPITCHED.has(role) ? null : key,
    };
    clip.notes.sort((a, b) => a.tick - b.tick || a.pitch - b.pitch);
    return [{ row, clip }];
  });
}

/** Small drawings of a row's cells, by pass and bar, all in one frame so that they can be compared; null where there is no cell. */
export function swatchesOf(
  cells: Cells,
  row: Row,
  passes: readonly Pass[],
  { meter }: Pick<Aligned, 'meter'>,
): (Uint8Array | null)[][] {
  const pitches = new Set<number>();
  row.parts.forEach((playing, at) => {
    for (const i of playing?.notes ?? []) pitches.add(pitchOf(playing!, passes[at]!.take.notes.pitch[i]!));
  });
  const frame = [...pitches].map((pitch) => ({ tick: 0, duration: 1, pitch, velocity: 1, release: 64, origin: 0 })); // prettier-ignore
  return cells.map((own, at) =>
    own.map((cell) => {
      const playing = row.parts[at];
      return cell && playing ? packedCell(cell, passes[at]!, playing, frame, { row, meter }) : null;
    }),
  );
}

function packedCell(
  { bar, notes }: Cell,
  { take }: Pass,
  playing: NonNullable<Row['parts'][number]>,
  frame: Clip['notes'],
  { row, meter }: { row: Row; meter: Aligned['meter'] },
): Uint8Array {
  const { timeline } = take.timing;
  const start = barStart(timeline, bar);
  const length = barTicks(timeline.ppq, meter);
  const own = notes.map((i) => ({
    ...{ tick: Math.max(0, take.notes.tick[i]! - start), duration: take.notes.duration[i]! },
    ...{ pitch: pitchOf(playing, take.notes.pitch[i]!), velocity: 1, release: 64, origin: i },
  }));
  return packSwatch({ notes: own, length, role: row.role }, { notes: frame, length, role: row.role });
}
