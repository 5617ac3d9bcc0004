import { GM_DRUM_CHANNEL } from '../midi/gm.ts';
import { BAND_KIT } from './band-styles.ts';
import { forceOf } from '../music/rhythm.ts';
import { eachStep, makeHand } from './hand.ts';
import { withMishaps, type Mishap } from './mishaps.ts';
import { SIXTEENTH, type Performance, type Played } from './performance.ts';
import { HAND_FIELDS, type CommonSettings, type StandIn } from './stand-in.ts';

const ROWS = ['kick', 'snare', 'clap', 'hat', 'open'] as const;

const ROW_PITCH: Record<(typeof ROWS)[number], number> = {
  kick: BAND_KIT.kick,
  snare: BAND_KIT.snare,
  clap: 39,
  hat: BAND_KIT['closed hat'],
  open: BAND_KIT['open hat'],
};

export interface StepGridSettings extends CommonSettings, Record<(typeof ROWS)[number], string> {
  bars: number;
}

/** One bar of kit pieces, repeated to fill a range. */
export const stepGrid: StandIn<StepGridSettings> = {
  id: 'step-grid',
  title: 'Step grid',
  about: 'One bar of kit pieces in sixteen steps, repeated to fill as many bars as are asked.',
  defaults: {
    bpm: 120,
    seed: 1,
    looseness: 0,
    kick: 'X...x...X...x...',
    snare: '....X.......X..o',
    clap: '................',
    hat: 'x.x.x.x.x.x.x.x.',
    open: '..............x.',
    bars: 4,
  },
  fields: [
    ...ROWS.map((row) => ({ name: row, label: row, kind: 'text' as const, hint: 'X...x...X...x...' })),
    { name: 'bars', label: 'Bars', kind: 'number', min: 1, max: 64 },
    ...HAND_FIELDS,
  ],
  mishaps: ['drumChannel', 'lateStart', 'hungNote', 'doubled', 'tailBars', 'oneBar', 'click'],
  play(settings, mishaps: readonly Mishap[] = []): Performance {
    const hand = makeHand({ ...settings, swing: 0.5 });
    const notes: Played[] = [];
    for (let bar = 0; bar < settings.bars; bar++) {
      for (const row of ROWS) {
        eachStep(settings[row].replace(/[^Xxo]/g, '.').slice(0, 16), (step, mark) =>
          notes.push({
            tick: (bar * 16 + step) * SIXTEENTH,
            length: SIXTEENTH / 2,
            pitch: ROW_PITCH[row],
            velocity: forceOf(mark),
          }),
        );
      }
    }
    return withMishaps(
      {
        title: 'Step grid',
        bpm: settings.bpm,
        meter: { numerator: 4, denominator: 4 },
        bars: settings.bars,
        parts: [{ name: 'Kit', channel: GM_DRUM_CHANNEL, program: 0, notes: notes.map(hand) }],
        input: null,
      },
      mishaps,
      settings.seed,
    );
  },
};
