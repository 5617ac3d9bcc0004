import { swingOf } from './features.ts';
import { feelFit, lengthFit, meterFit, tempoFit } from './fit.ts';
import { beatTicks, meterAt } from '../music/timeline.ts';
import { median } from '../numbers.ts';
import { barsOf, bpmOfClip, type Clip } from '../phrase/clip.ts';
import { unitsOf } from '../phrase/units.ts';
import { intervalBetween } from '../music/key.ts';

export const ACCOMPANY_PARTS = ['rests', 'register', 'tempo', 'feel', 'length'] as const;
export type AccompanyPart = (typeof ACCOMPANY_PARTS)[number];

/** Of 100 (from memory): an accompaniment fills what the tune leaves, under it. */
const WEIGHTS: Record<AccompanyPart, number> = { rests: 40, register: 25, tempo: 15, feel: 10, length: 10 };

/** What a stroke is worth while the tune rests, holds a note, or strikes itself. */
const STROKE = { resting: 1, held: 0.6, together: 0.2 };

/** Strokes within this many beats of each other are struck together. */
const TOGETHER = 1 / 8;

/** So far below the tune an accompaniment has room, in semitones; and so far above it none. */
const FIFTH_BELOW = 7;
const ABOVE = 5;

/** What a unison with the tune that lasts longer than a beat takes off. */
const UNISON = 0.4;

export interface Accompaniment {
  /** 0..100. */
  score: number;
  reasons: { part: AccompanyPart; score: number; text: string }[];
}

/** Where the tune strikes and sounds, in beats from bar one; and its middle pitch. */
interface Tune {
  clip: Clip;
  swing: number;
  strokes: number[];
  sounding: { from: number; to: number; pitch: number }[];
  median: number;
  beats: number;
}

/** How well phrases accompany a tune, each by its strokes, register, tempo, feel and length. */
export function accompaniments(tune: Clip, others: readonly Clip[]): Accompaniment[] {
  const heard = tuneOf(tune);
  return others.map((other) => accompanimentOf(heard, other));
}

function beatsOf(clip: Clip): { at: (tick: number) => number; beats: number; meter: string } {
  const meter = meterAt(clip.timeline, clip.pickup);
  const beat = beatTicks(clip.timeline.ppq, meter);
  return {
    at: (tick) => (tick - clip.pickup) / beat,
    beats: barsOf(clip) * meter.numerator,
    meter: `${meter.numerator}/${meter.denominator}`,
  };
}

function tuneOf(clip: Clip): Tune {
  const { at, beats } = beatsOf(clip);
  const sounding = clip.notes.map(({ tick, duration, pitch }) => ({
    from: at(tick),
    to: at(tick + duration),
    pitch,
  }));
  return {
    clip,
    swing: swingOf(clip),
    strokes: sounding.map(({ from }) => from),
    sounding,
    median: middleOf(clip),
    beats,
  };
}

const middleOf = ({ notes }: Clip): number => median(notes.map(({ pitch }) => pitch));

function accompanimentOf(tune: Tune, clip: Clip): Accompaniment {
  const { at, beats, meter } = beatsOf(clip);
  const rounds = Math.ceil(tune.beats / beats);
  const strokes = unitsOf(clip).map((unit) => at(unit[0]!.tick));
  const worth = Array.from({ length: rounds }, (_, round) => strokes.map((beat) => beat + round * beats))
    .flat()
    .filter((beat) => beat >= 0 && beat < tune.beats)
    .map((beat) => strokeWorth(tune, beat));
  const rests = worth.length === 0 ? 0 : worth.reduce((sum, one) => sum + one, 0) / worth.length;
  const between = worth.filter((one) => one !== STROKE.together).length / Math.max(1, worth.length);
  const { score: register, text: registerText } = registerOf(tune, clip, at, beats);
  const tempo = tempoFit(bpmOfClip(clip), bpmOfClip(tune.clip)).score;
  const same = meterFit(meter, beatsOf(tune.clip).meter);
  const feel = tune.swing < 0 ? 0.7 : feelFit(swingOf(clip), tune.swing);
  const bars = [barsOf(clip), barsOf(tune.clip)] as const;
  const length = lengthFit(...bars);
  const scores: Record<AccompanyPart, [number, string]> = {
    rests: [rests, `${Math.round(100 * between)} % of its strokes between the tune's`],
    register: [register, registerText],
    tempo: [tempo, `${Math.round(bpmOfClip(clip))} BPM for ${Math.round(bpmOfClip(tune.clip))}`],
    feel: [
      feel,
      feel > 0.9 ? 'swings as the tune' : feel === 0.7 ? 'nothing tells how it swings' : 'swings otherwise',
    ],
    length: [length, `${bars[0]} bars for ${bars[1]}${length < 1 ? ', not even' : ''}`],
  };
  const sum = ACCOMPANY_PARTS.reduce((all, part) => all + WEIGHTS[part] * scores[part][0], 0);
  return {
    // In another meter its bars fall on other beats.
    score: Math.round(sum * (0.4 + 0.6 * same)),
    reasons: ACCOMPANY_PARTS.map((part) => ({ part, score: scores[part][0], text: scores[part][1] })),
  };
}

function strokeWorth({ strokes, sounding }: Tune, beat: number): number {
  if (strokes.some((own) => Math.abs(own - beat) <= TOGETHER)) return STROKE.together;
  return sounding.some(({ from, to }) => from < beat && beat < to - TOGETHER) ? STROKE.held : STROKE.resting;
}

/** How far it lies under the tune, in the tune's key. */
function registerOf(
  tune: Tune,
  clip: Clip,
  at: (tick: number) => number,
  beats: number,
): { score: number; text: string } {
  const key = tune.clip.key;
  const by = key && clip.key ? intervalBetween(clip.key.tonic, key.tonic) : 0;
  const under = tune.median - (middleOf(clip) + by);
  const place = Math.min(1, Math.max(0, (under + ABOVE) / (FIFTH_BELOW + ABOVE)));
  const unison = clip.notes.some(({ tick, duration, pitch }) =>
    tune.sounding.some((note) => {
      const from = at(tick) % beats;
      const overlap =
        Math.min(note.to % beats || beats, from + at(tick + duration) - at(tick)) -
        Math.max(note.from % beats, from);
      return note.pitch === pitch + by && overlap > 1;
    }),
  );
  const where =
    under >= FIFTH_BELOW
      ? 'lies under the tune'
      : under >= 0
        ? 'lies close under the tune'
        : 'lies over the tune';
  return {
    score: Math.max(0, place - (unison ? UNISON : 0)),
    text: unison ? `${where}, in unison for longer than a beat` : where,
  };
}
