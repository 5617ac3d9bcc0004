import { clashesBetween, type Clash } from '../../core/clash/clashes.ts';
import { clashInWords } from '../../core/clash/words.ts';
import type { Key } from '../../core/music/key.ts';
import { applyRecipe } from '../../core/normalize/recipe.ts';
import { barsOf, isPitched, type Clip } from '../../core/phrase/clip.ts';
import { isChordNote } from '../../core/through/degrees.ts';
import { indexAt } from '../../core/through/sounding.ts';
import type { OutsideRow } from './through/OutsideList.tsx';
import { partEdit, type Taken, type ThroughEdit } from './through/through-edit.ts';

/** So many are told, the worst first: the others are passed by when those are put right. */
const MOST = 12;

/** Lighter than this a clash passes by unheard. */
const LEAST = 0.1;

/**
 * Where the parts clash with each other over the chords, or with what is pinned: each as a note of one of them that can be put
 * right. What is pinned stays as it is.
 */
export function clashRows(
  taken: readonly Taken[],
  edit: ThroughEdit,
  key: Key,
  pins: readonly { title: string; clip: Clip }[],
): OutsideRow[] {
  const ppq = taken[0]?.result.clip.timeline.ppq;
  if (ppq === undefined) return [];
  const parts = [
    ...taken.map(({ phrase, result }) => ({ name: phrase.partName, clip: result.clip })),
    ...pins.map(({ title, clip }) => ({ name: `${title} (pinned)`, clip: overBars(clip, ppq, taken) })),
  ];
  const names = parts.map(({ name }) => name);
  const clashes = clashesBetween(parts);
  return clashes
    .filter(({ weight, notes }) => weight >= LEAST && notes.every((list) => list.length > 0))
    .slice(0, MOST)
    .flatMap((clash): OutsideRow[] => {
      const which = partToMend(clash, taken);
      if (which === undefined) return [];
      const { phrase, result, setting } = taken[clash.parts[which]]!;
      const note = result.clip.notes.find(({ origin }) => origin === clash.notes[which][0]);
      if (!note || !setting || partEdit(edit, phrase.id).mend.some((one) => one.note === note.origin))
        return [];
      const { id, name, role } = phrase;
      const { timeline, pickup } = result.clip;
      return [
        {
          ...{ note: note.origin, tick: note.tick, pitch: note.pitch, cause: 'clash', was: 'chord' },
          ...{
            symbol: setting.target.symbols[indexAt(setting.target, note.tick)]!,
            part: { id, name, role },
          },
          ...{ timeline, pickup, setting, clash: clashInWords(clash, names, key) },
        },
      ];
    });
}

/** What is pinned, in the ticks of the parts, and gone round for as long as they last. */
function overBars(clip: Clip, ppq: number, taken: readonly Taken[]): Clip {
  const bars = Math.max(...taken.map(({ result }) => barsOf(result.clip)));
  const steps = [
    { step: 'repeat' as const, bars },
    { step: 'resolution' as const, ppq },
  ];
  return applyRecipe(clip, { version: 1, steps }).clip;
}

/** Of the two the one whose note is no chord note; else the later part. Drums and what is pinned are left alone. */
function partToMend({ parts, notes }: Clash, taken: readonly Taken[]): 0 | 1 | undefined {
  const could = ([0, 1] as const).filter((k) => {
    const part = taken[parts[k]];
    return part !== undefined && isPitched(part.result.clip);
  });
  const isForeign = (k: 0 | 1) => {
    const { setting, result } = taken[parts[k]]!;
    const note = result.clip.notes.find(({ origin }) => origin === notes[k][0]);
    const chord = note && setting?.target.chords[indexAt(setting.target, note.tick)];
    return chord ? !isChordNote(chord, note.pitch) : false;
  };
  return could.find(isForeign) ?? could.at(-1);
}
