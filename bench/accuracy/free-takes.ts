import { readTakes, takeFrom, type Take } from '../../src/core/capture/take.ts';
import { writeMidiFile } from '../../src/core/midi/write.ts';
import { barStart, beatTicks, meterAt, positionAt, ticksToSeconds } from '../../src/core/music/timeline.ts';
import { performanceFile } from '../../src/core/standins/performance.ts';
import { seededRandom } from '../../src/core/random.ts';
import { STAND_INS, standInById } from '../../src/core/standins/stand-ins.ts';
import { soundedCharts } from './charts.ts';

/** How the time of a take wanders. */
export type Drift = 'steady' | 'ramp' | 'wave';

/** A take that was played to no click: when its beats are is known because it was made so. */
export interface FreeTake {
  name: string;
  drift: Drift;
  pushed: boolean;
  take: Take;
  /** Seconds of each beat while something is played, and of those that are the first of a bar. */
  beats: number[];
  downbeats: number[];
}

const CHARTS = [
  'Dm | Bb | Gm | A7',
  'G | C | D7 | G',
  'F#m | D | A | E',
  'Am7 | D7 | Gmaj7 | Cmaj7',
  'C | Am | F | G7',
];

/** Half from `abc2midi`'s charts, half from the stand-ins, each with a drift in turn. */
export function freeTakes(count: number, { pushed = false, seed = 0 } = {}): FreeTake[] {
  const charts = [
    ...soundedCharts('plain', Math.ceil(count / 4)),
    ...soundedCharts('hard', Math.ceil(count / 4)),
  ];
  const steady = Array.from({ length: count }, (_, n) => {
    if (n % 2 === 0) {
      const { name, take } = charts[(n / 2) % charts.length]!;
      return { name, take };
    }
    return played(n, seed);
  });
  return steady.map(({ name, take }, n) =>
    freed(name, take, (['ramp', 'wave'] as const)[(n % 4) >> 1]!, pushed, seed + n),
  );
}

function played(n: number, seed: number): { name: string; take: Take } {
  const random = seededRandom(900 + n + seed);
  const pick = <Value>(list: readonly Value[]) => list[Math.floor(random() * list.length)]!;
  const standIn = standInById(STAND_INS[(n >> 1) % STAND_INS.length]!.id);
  const settings = { ...standIn.defaults, seed: n + seed, bpm: 72 + Math.floor(random() * 78), looseness: 6 };
  for (const field of standIn.fields)
    if (field.kind === 'choice') Object.assign(settings, { [field.name]: pick(field.options).value });
  if ('chart' in settings)
    Object.assign(settings, { chart: `${pick(CHARTS)} | ${pick(CHARTS)} | ${pick(CHARTS)}` });
  return { name: standIn.title, take: takeFrom(performanceFile(standIn.play(settings, []))) };
}

/** The ticks of the file that is made: at 120 BPM, which its file does not say. */
const TICKS_A_SECOND = 960;

function freed(name: string, made: Take, drift: Drift, pushed: boolean, seed: number): FreeTake {
  const random = seededRandom(77 + seed);
  const { timeline } = made.timing;
  const { notes } = made;
  const first = notes.tick.reduce((least, tick) => Math.min(least, tick), Infinity);
  const last = notes.tick.reduce((most, tick) => Math.max(most, tick), 0);
  const silence = random() * 1.5;
  const direction = random() < 0.5 ? -1 : 1;
  const period = (8 + random() * 24) * timeline.ppq;
  // How many times slower than the steady one it goes at a tick.
  const slowness = (tick: number) =>
    drift === 'ramp'
      ? 1 + direction * 0.15 * ((tick - first) / (last - first || 1))
      : drift === 'wave'
        ? 1 + 0.08 * Math.sin((2 * Math.PI * (tick - first)) / period)
        : 1;
  const step = timeline.ppq / 8;
  const lines: number[] = [silence];
  for (let tick = first; tick <= last + timeline.ppq * 8; tick += step) {
    const length = ticksToSeconds(timeline, tick + step) - ticksToSeconds(timeline, tick);
    lines.push(lines.at(-1)! + length * slowness(tick));
  }
  const secondsAt = (tick: number) => {
    const place = (tick - first) / step;
    const at = Math.max(0, Math.min(lines.length - 2, Math.floor(place)));
    return lines[at]! + (place - at) * (lines[at + 1]! - lines[at]!);
  };
  const normal = () => random() + random() + random() + random() - 2;
  const strayOf = new Map<string, number>();
  const ahead = pushed ? 0.12 : 0;
  const events = made.file.tracks.map((track, trackAt) => {
    const kept = track.filter(({ status, data1 }) => status !== 0xff || ![0x51, 0x58, 0x59].includes(data1));
    return kept
      .map((event) => {
        // 8 ms of a hand, the same for what is struck together by one hand.
        const key = `${trackAt} ${event.status & 0x0f} ${Math.round(event.tick / 20)}`;
        if (!strayOf.has(key)) strayOf.set(key, normal() * 0.0138);
        const seconds = secondsAt(event.tick) + strayOf.get(key)! - (event.status >> 4 === 9 ? ahead : 0);
        return { ...event, tick: Math.max(0, Math.round(seconds * TICKS_A_SECOND)) };
      })
      .sort((a, b) => a.tick - b.tick);
  });
  for (const track of events) {
    const end = track.find(({ status, data1 }) => status === 0xff && data1 === 0x2f);
    if (end) end.tick = track.at(-1)!.tick;
    track.sort((a, b) => a.tick - b.tick || Number(a === end) - Number(b === end));
  }
  const take = readTakes(
    writeMidiFile({ ...made.file, division: { kind: 'metrical', ppq: 480 }, tracks: events }),
  )[0]!;
  const beats: number[] = [];
  const downbeats: number[] = [];
  for (let bar = positionAt(timeline, first).bar; barStart(timeline, bar) <= last; bar++) {
    const start = barStart(timeline, bar);
    const meter = meterAt(timeline, start);
    const grouped = meter.denominator === 8 && meter.numerator % 3 === 0 ? 3 : 1;
    const beat = beatTicks(timeline.ppq, meter) * grouped;
    for (let tick = start; tick < barStart(timeline, bar + 1); tick += beat) {
      if (tick < first - beat / 4 || tick > last + beat / 4) continue;
      beats.push(secondsAt(tick));
      if (tick === start) downbeats.push(secondsAt(tick));
    }
  }
  return { name, drift, pushed, take, beats, downbeats };
}
