import type { CompTally } from './comp.ts';
import { plural } from '../words.ts';
import type { Cell } from './grid.ts';
import type { Joint } from './join.ts';
import type { Why } from './suggest.ts';

const WHYS: Record<Why, string> = {
  only: 'the only pass that has it',
  'fewest errors': 'fewest chart errors',
  starred: 'starred',
  feel: 'nearest to the median feel',
  fill: 'least like the others where a section ends',
  'goes on': 'goes on from the bar before',
  none: 'no pass has it',
};

export function whyWords(why: Why): string {
  return WHYS[why];
}

/** What a cell's marks mean, each in a sentence. */
export function cellRemarks(cell: Pick<Cell, 'miss' | 'isLoose' | 'looseMs' | 'isUnlike'>): string[] {
  const { miss, isLoose, looseMs, isUnlike } = cell;
  return [
    ...(miss ? [`Asked ${miss.asked}, sounded ${miss.sounded || 'nothing'}.`] : []),
    ...(isLoose ? [`Loose: ${looseMs!.toFixed(0)} ms from its grid at the mean.`] : []),
    ...(isUnlike ? ['Unlike all others.'] : []),
  ];
}

/** What happens at a joint: what rings on, what ends, and steps that will be heard. */
export function jointWords({ rings, ended, marks, level, semitones }: Joint): string {
  const said = [
    ...(marks.includes('level') ? [`${Math.abs(level)} ${level > 0 ? 'louder' : 'softer'}`] : []),
    ...(marks.includes('register')
      ? [`${plural(Math.abs(semitones), 'semitone')} ${semitones > 0 ? 'higher' : 'lower'}`]
      : []),
    ...(rings > 0 ? [`${plural(rings, 'note')} ring${rings === 1 ? 's' : ''} on`] : []),
    ...(ended > 0 ? [`${plural(ended, 'note')} end${ended === 1 ? 's' : ''} where ${ended === 1 ? 'it is' : 'they are'} struck`] : []), // prettier-ignore
  ];
  return said.length > 0 ? said.join(', ') : 'clean';
}

/** "Bar 3", "Bars 3 to 5"; bars from 0. */
export function barsWords(from: number, to: number): string {
  return from === to ? `Bar ${from + 1}` : `Bars ${from + 1} to ${to + 1}`;
}

/** "9 of 49 bars used, 40 not". */
export function tallyWords({ bars, balanced }: CompTally): string {
  return `${bars.used} of ${bars.in} bars used, ${bars.notUsed} not${balanced ? '' : ': this does not balance'}`;
}
