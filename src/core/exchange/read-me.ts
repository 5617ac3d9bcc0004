import { keyName, sameKey } from '../music/key.ts';
import { meterAt } from '../music/timeline.ts';
import { fittingInWords, isFitting, type Fitting } from '../normalize/fitting.ts';
import { isPitched } from '../phrase/clip.ts';
import { programName } from '../midi/gm.ts';
import { plural } from '../words.ts';
import type { CardChange } from './card.ts';
import { tempoOf, type HandOff } from './handoff.ts';
import { fittingOf, type LeavingPhrase } from './leaving.ts';

/** What a person wants to know before opening anything: tempo, key and meter first, then one block a phrase, in plain words. */
export function readableNote(handOff: HandOff, leaving: readonly LeavingPhrase[]): string {
  const lines = [
    handOff.title,
    '='.repeat(handOff.title.length),
    '',
    ...commonFacts(handOff),
    '',
    `${plural(handOff.phrases.length, 'phrase')}, packed ${handOff.madeAt.slice(0, 10)}.`,
    'Each .mid file is a Standard MIDI File with its tempo, meter and key inside; ' +
      `middle C is C${handOff.card?.middleC ?? 4}.`,
    ...(handOff.layout !== 'flat' ? ['What sounds together is in the folder "together".'] : []),
    ...(handOff.out.sounds === 'plain'
      ? ['Nothing in them chooses sounds: drums are on channel 10, all else on channel 1.']
      : []),
    '',
  ];
  leaving.forEach(({ phrase, clip, changes, path }, i) => {
    const heading = phrase.heading ?? '';
    if (heading !== (leaving[i - 1]?.phrase.heading ?? ''))
      lines.push(heading, '-'.repeat(heading.length), '');
    const meter = meterAt(clip.timeline, 0);
    const sound = !isPitched(clip)
      ? 'drum kit, General MIDI map'
      : handOff.out.sounds === 'plain'
        ? 'any sound'
        : `${programName(clip.program)} suggested`;
    const moved =
      phrase.capturedKey && clip.key && !sameKey(phrase.capturedKey, clip.key)
        ? [`  captured in ${keyName(phrase.capturedKey)}`]
        : [];
    lines.push(
      handOff.out.as === 'one' ? phrase.name : path,
      `  ${phrase.name} (${clip.role})`,
      `  ${tempoOf(clip)} BPM, ${meter.numerator}/${meter.denominator}, ${plural(phrase.bars, 'bar')}, ` +
        (clip.key ? keyName(clip.key) : 'no key'),
      ...moved,
      `  ${plural(clip.notes.length, 'note')}, channel ${clip.channel + 1}, ${sound}`,
      `  from ${phrase.source.take}, ${phrase.source.part}, from bar ${phrase.source.startBar}`,
      ...fittedWords(fittingOf(phrase, handOff), changes),
      ...(phrase.tags.length > 0 ? [`  tags: ${phrase.tags.join(', ')}`] : []),
      ...(clip.pickup > 0 ? ['  a pickup in a bar of its own before bar 1'] : []),
      ...(phrase.contributor ? [`  by ${phrase.contributor}`] : []),
      ...(phrase.rights ? [`  rights: ${phrase.rights}`] : []),
      '',
    );
  });
  return lines.join('\n');
}

/** What was done to it on its way out: by the recipient's card, or by what it keeps beside its notes. */
function fittedWords(own: Fitting, changes: readonly CardChange[]): string[] {
  if (changes.length > 0) return [`  for your place: ${changes.map(({ text }) => text).join(', ')}`];
  return isFitting(own) ? [`  fitted: ${fittingInWords(own)}`] : [];
}

/** Tempo, key and meter of all of it, or that they differ. */
function commonFacts({ phrases }: HandOff): string[] {
  const one = (title: string, values: readonly string[]) => {
    const known = [...new Set(values.filter(Boolean))];
    if (known.length === 0) return [];
    return [`${title}: ${known.length === 1 ? known[0] : `${known.length} of them, each file has its own`}`];
  };
  return [
    ...one(
      'Tempo',
      phrases.map(({ clip }) => `${tempoOf(clip)} BPM`),
    ),
    ...one(
      'Key',
      phrases.map(({ clip }) => (clip.key ? keyName(clip.key) : '')),
    ),
    ...one(
      'Meter',
      phrases.map(({ clip }) => {
        const { numerator, denominator } = meterAt(clip.timeline, clip.pickup);
        return `${numerator}/${denominator}`;
      }),
    ),
  ];
}
