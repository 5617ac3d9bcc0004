import { GM_PROGRAMS } from '../../core/midi/gm.ts';

/** The sounds of General MIDI as options of a select; their values are the programs from 0. */
export function ProgramOptions({ numbered = false }: { numbered?: boolean }) {
  return GM_PROGRAMS.map((name, program) => (
    <option key={name} value={program}>
      {numbered ? `${program + 1} ${name}` : name}
    </option>
  ));
}
