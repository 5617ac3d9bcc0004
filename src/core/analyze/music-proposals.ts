import { pulled, scaled } from '../capture/retime.ts';
import type { Take } from '../capture/take.ts';
import { intervalBetween, keyLabel, type Key } from '../music/key.ts';
import { pitchClass } from '../music/pitch.ts';
import { spellPitchClass } from '../music/spelling.ts';
import { barStart, barsUntil, barTicks, beatTicks, meterAt, tempoAt, bpmOf } from '../music/timeline.ts';
import { noteSet } from '../split/note-set.ts';
import type { SingleMove } from '../split/moves.ts';
import type { Proposal } from '../split/proposals.ts';
import { UNPITCHED } from '../split/roles.ts';
import { playingParts, type Split } from '../split/split.ts';
import { plural } from '../words.ts';
import { barsByBeats, findBeats } from './beats.ts';
import { tailCertainty, tailKind, tailWords } from './tail-kind.ts';
import { barsAfterChart, type ChartCheck, type WrongChord } from './chart-check.ts';
import type { Edges } from './edges.ts';
import { findMeter } from './meter.ts';
import { keepsGrid, otherTempo } from './tempo.ts';

/** What the music proposals look at. */
export interface MusicFacts {
  edges: Edges;
  bars: number;
  key: Key | null;
  chartCheck: ChartCheck | null;
  /** Bars that were asked for; null where nobody said. */
  asked: number | null;
}

/** What could be put right in the time and the harmony of a take, without what was refused. */
export function musicProposals(take: Take, split: Split, facts: MusicFacts): Proposal[] {
  const free = barsProposals(take, split);
  const beginning = beginningProposals(take, split, facts.edges);
  const meter = free.length > 0 ? [] : meterProposals(take, split);
  // On other bars everything else would be otherwise.
  const others =
    free.length > 0 || meter.length > 0 || facts.edges.lateTicks > 0
      ? []
      : [
          ...timeProposals(take, split),
          ...tailProposals(take, split, facts),
          ...silenceProposals(take),
          ...chartProposals(take, split, facts),
        ];
  const first = free.length + meter.length > 0 ? [...free, ...meter] : beginning;
  return [...first, ...others].filter(({ id }) => !split.refused.includes(id));
}

function proposal(
  kind: Proposal['kind'],
  text: string,
  why: string,
  certainty: number,
  ways: Proposal['ways'],
  id: string = kind,
): Proposal {
  return { id, kind, parts: [], text, why, certainty, ways };
}

/** Beats that lie elsewhere than the file says: it was played to no click. */
function barsProposals(take: Take, split: Split): Proposal[] {
  if (keepsGrid(take)) return [];
  const found = findBeats(take, split);
  if (!found) return [];
  const bpm = Math.round(found.bpm);
  return [
    proposal(
      'bars',
      `Nothing stands on the beats of the file: put the take on the bars it is played in, ${found.beatsPerBar}/4 at about ${bpm} BPM?`,
      'The strokes keep another, changing tempo. Every note goes on sounding when it did; the tempo curve is kept.',
      found.certainty,
      [
        {
          title: 'On its bars',
          move: { move: 'retime', how: `bars by the beat, about ${bpm} BPM`, ...barsByBeats(take, found) },
        },
      ],
    ),
  ];
}

/** Another meter than the 4/4 that is assumed where a file gives none. */
function meterProposals(take: Take, split: Split): Proposal[] {
  const found = findMeter(take, split);
  if (!found) return [];
  const meter = `${found.numerator}/${found.denominator}`;
  const percent = (share: number) => `${Math.round(share * 100)} %`;
  return [
    proposal(
      'meter',
      `The file gives no meter; it plays in ${meter}: count its bars so?`,
      `What plays comes again after bars of ${meter} (${percent(found.likeness)} alike), and not after bars of 4/4 (${percent(found.assumed)}).`,
      found.certainty,
      [
        {
          title: meter,
          move: { move: 'meter', fromTick: 0, numerator: found.numerator, denominator: found.denominator },
        },
      ],
    ),
  ];
}

/** Half or double time, where it is as likely as what is written. */
function timeProposals(take: Take, split: Split): Proposal[] {
  // Film time has one tempo.
  const other = take.file.division.kind === 'metrical' ? otherTempo(take, split) : null;
  if (!other) return [];
  const bpm = Math.round(bpmOf(tempoAt(take.timing.timeline, 0).microseconds));
  const title = other.factor > 1 ? 'double time' : 'half time';
  return [
    proposal(
      'time',
      `${bpm} BPM, or ${title}, ${Math.round(bpm * other.factor)} BPM: change?`,
      other.factor > 1
        ? 'What is struck looks like quarter notes written as halves.'
        : 'What is struck looks like quarter notes written as eighths.',
      other.certainty,
      [
        {
          title: other.factor > 1 ? 'Double time' : 'Half time',
          move: { move: 'retime', how: title, ...scaled(other.factor) },
        },
      ],
    ),
  ];
}

function beginningProposals(take: Take, split: Split, edges: Edges): Proposal[] {
  const { timeline } = take.timing;
  const meter = meterAt(timeline, 0);
  const beat = beatTicks(timeline.ppq, meter);
  const bar = barTicks(timeline.ppq, meter);
  if (edges.countInBars > 0) {
    const end = edges.leadingTicks + edges.countInBars * bar;
    const aside = playingParts(split).flatMap(({ part, notes }): SingleMove[] => {
      const counted = notes.filter((i) => UNPITCHED.has(part.role) && take.notes.tick[i]! < end - beat / 4);
      if (counted.length === 0) return [];
      return [{ move: 'setAside', part: part.id, reason: 'count-in', notes: noteSet(counted) }];
    });
    const by = edges.pickupTicks > 0 ? end - bar : end;
    const pull: SingleMove[] = by > 0 ? [pullMove(by, bar, beat)] : [];
    return [
      proposal(
        'countIn',
        `${plural(edges.countInBars, 'bar')} of counting in: set aside, and begin with the music?`,
        'Strokes on the beats and no tone, before anything else plays.',
        0.9,
        [
          {
            title: 'Set aside',
            move: { move: 'together', title: 'set the count-in aside', moves: [...aside, ...pull] },
          },
        ],
      ),
    ];
  }
  const late =
    edges.lateTicks > 0 ? edges.lateTicks : Math.floor((edges.leadingTicks + beat / 4) / bar) * bar;
  if (late === 0) return [];
  const isBars = late % bar === 0;
  return [
    proposal(
      'late',
      isBars
        ? `${plural(late / bar, 'silent bar')} before the music: pull to bar 1?`
        : `Starts late by ${plural(Math.round((late / beat) * 4) / 4, 'beat')}: pull to bar 1?`,
      isBars
        ? 'Nothing sounds before.'
        : 'Bass, long notes and changes of harmony stand where bars would begin if it were pulled back.',
      0.85,
      [{ title: 'Pull', move: pullMove(late, bar, beat) }],
    ),
  ];
}

function pullMove(ticks: number, bar: number, beat: number): SingleMove {
  const by =
    ticks % bar === 0 ? plural(ticks / bar, 'bar') : plural(Math.round((ticks / beat) * 100) / 100, 'beat');
  return { move: 'retime', how: `pull back by ${by}`, ...pulled(ticks) };
}

/** Bars after the chart, after what was asked, or after the form. */
function tailProposals(take: Take, split: Split, { edges, bars, chartCheck, asked }: MusicFacts): Proposal[] {
  const charted = chartCheck ? barsAfterChart(chartCheck, bars) : undefined;
  const count =
    charted ?? (asked !== null && asked < bars ? bars - asked : asked === null ? edges.tailBars : 0);
  if (count <= 0 || count >= bars) return [];
  const kind = tailKind(take, split, bars - count + 1, bars);
  const fromTick = barStart(take.timing.timeline, bars - count + 1);
  const early = take.timing.timeline.ppq / 8;
  const moves = playingParts(split)
    .filter(({ notes }) => notes.some((i) => take.notes.tick[i]! >= fromTick - early))
    .map(({ part }): SingleMove => ({
      move: 'setAside',
      part: part.id,
      reason: 'tail bars',
      fromTick: fromTick - early,
    }));
  if (moves.length === 0) return [];
  const after =
    charted !== undefined ? 'the chart' : asked !== null ? `the ${asked} that were asked for` : 'the form';
  return [
    proposal(
      'tail',
      `${plural(count, 'bar')} after ${after}: set aside?`,
      tailWords(kind),
      tailCertainty(kind, charted !== undefined || asked !== null),
      [
        {
          title: 'Set aside',
          move: { move: 'together', title: `set ${plural(count, 'tail bar')} aside`, moves },
        },
      ],
    ),
  ];
}

/** So many silent bars at the end are worth a word. */
const SILENT_BARS = 2;

/** Silence after the last note, as a recording has that was stopped late. */
function silenceProposals({ notes, timing }: Take): Proposal[] {
  const { timeline, ticks } = timing;
  let end = 0;
  for (let i = 0; i < notes.length; i++) end = Math.max(end, notes.tick[i]! + notes.duration[i]!);
  const lastBar = barsUntil(timeline, end);
  const silent = barsUntil(timeline, ticks) - lastBar;
  if (silent < SILENT_BARS) return [];
  return [
    proposal(
      'silence',
      `${plural(silent, 'silent bar')} at the end: cut them off?`,
      'Nothing sounds after the last note.',
      0.9,
      [{ title: 'Cut off', move: { move: 'end', tick: Math.round(barStart(timeline, lastBar + 1)) } }],
    ),
  ];
}

/** Chords that sounded otherwise than the chart asks, note by note. */
function chartProposals(take: Take, split: Split, { chartCheck, key }: MusicFacts): Proposal[] {
  return (chartCheck?.aligned ?? []).flatMap(({ bar, same, wrong }) => {
    if (same && wrong.length === 0) return [];
    return wrong.flatMap((one): Proposal[] => {
      const moves = one.instead.flatMap((pair) => mendMoves(take, split, one, pair));
      if (moves.length === 0) return [];
      const name = (pc: number) => spellPitchClass(pc, key);
      const said = one.instead.map(({ sounded, asked }) => `${name(sounded)} to ${name(asked)}`).join(', ');
      return [
        proposal(
          'chart',
          `Bar ${bar}: asked ${one.asked}, sounded ${one.sounded}: move ${said}?`,
          `The chart asks for ${one.asked}${key ? ` (${keyLabel(key)})` : ''}; ${one.instead.map(({ sounded }) => name(sounded)).join(', ')} is not in it.`,
          0.8,
          [
            {
              title: `Move ${said}`,
              move: { move: 'together', title: `bar ${bar} as ${one.asked}`, moves },
            },
          ],
          `chart ${bar} ${one.asked} ${one.sounded}`,
        ),
      ];
    });
  });
}

function mendMoves(
  take: Take,
  split: Split,
  { fromTick, toTick }: WrongChord,
  { sounded, asked }: { sounded: number; asked: number },
): SingleMove[] {
  const { tick, duration, pitch } = take.notes;
  const by = intervalBetween(sounded, asked);
  const notes = playingParts(split).flatMap(({ part, notes: own }) =>
    UNPITCHED.has(part.role)
      ? []
      : own.filter((i) => {
          const middle = tick[i]! + duration[i]! / 2;
          return (
            pitchClass(pitch[i]!) === sounded && !split.locked[i] && middle >= fromTick && middle < toTick
          );
        }),
  );
  return notes.length > 0 ? [{ move: 'repitch', notes: noteSet(notes), by }] : [];
}
