import { keyName, type Key } from '../music/key.ts';
import type { TakeForm } from '../weave/sections-of.ts';

/**
 * A chord sheet as text, in the writing that charts are typed in: under the title a line a section, each once, and the form in which
 * they come.
 */
export function chordSheet(title: string, key: Key | null, form: TakeForm): string {
  const names = namesOf(form);
  const written = new Map<string, string>();
  form.sections.forEach(({ section }, k) => {
    if (!written.has(names[k]!)) written.set(names[k]!, section.changes || 'N.C.');
  });
  return [
    ...sheetHeading(title, key, form),
    ...[...written].flatMap(([name, changes]) => [`${name}: ${changes}`, '']),
    ...(names.length > 1 ? [`form: ${names.join(' ')}`, ''] : []),
  ].join('\n');
}

/** What stands above chords: the title, then key, tempo and meter in a line. */
export function sheetHeading(
  title: string,
  key: Key | null,
  { bpm, meter }: { bpm: number; meter: { numerator: number; denominator: number } },
): string[] {
  const facts = [key ? keyName(key) : '', `${bpm} BPM`, `${meter.numerator}/${meter.denominator}`];
  return [title, facts.filter(Boolean).join(', '), ''];
}

/** A name a section: what sounds alike has one, what is called alike and sounds otherwise has a number. */
function namesOf({ sections }: TakeForm): string[] {
  const named = new Map<string, string[]>();
  return sections.map(({ section: { name, changes } }) => {
    const plain = name.replace(/[^A-Za-z0-9_]+/g, '_') || 'A';
    const known = named.get(plain) ?? [];
    named.set(plain, known);
    if (!known.includes(changes)) known.push(changes);
    const at = known.indexOf(changes);
    return at === 0 ? plain : `${plain}${at + 1}`;
  });
}
