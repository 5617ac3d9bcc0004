import { execFileSync } from 'node:child_process';
import { existsSync } from 'node:fs';

/** Why tests against Debian's python3-mido are skipped, or false. On CI they always run. */
export const withoutMido: string | false =
  existsSync('/usr/lib/python3/dist-packages/mido/__init__.py') || process.env.CI
    ? false
    : 'needs the Debian package python3-mido';

/** What a MIDI file holds as mido reads it; times in ticks from the beginning, notes first in, first out. */
export interface MidoFile {
  ppq: number;
  /** "tick duration channel pitch velocity", sorted. */
  notes: string[];
  tempos: [tick: number, microseconds: number][];
  meters: [tick: number, numerator: number, denominator: number][];
  keys: string[];
  names: string[];
  programs: number[];
  /** "tick number value" */
  controls: string[];
}

const SCRIPT = `
import json, sys, mido
out = []
for path in sys.argv[1:]:
    midi = mido.MidiFile(path)
    file = dict(ppq=midi.ticks_per_beat, notes=[], tempos=[], meters=[], keys=[], names=[], programs=[], controls=[])
    for track in midi.tracks:
        tick, sounding = 0, {}
        for m in track:
            tick += m.time
            if m.type == 'set_tempo': file['tempos'].append([tick, m.tempo])
            elif m.type == 'time_signature': file['meters'].append([tick, m.numerator, m.denominator])
            elif m.type == 'key_signature': file['keys'].append(m.key)
            elif m.type == 'track_name': file['names'].append(m.name)
            elif m.type == 'program_change': file['programs'].append(m.program)
            elif m.type == 'control_change': file['controls'].append('%d %d %d' % (tick, m.control, m.value))
            elif m.type == 'note_on' and m.velocity > 0: sounding.setdefault((m.channel, m.note), []).append((tick, m.velocity))
            elif m.type in ('note_on', 'note_off'):
                start, velocity = sounding[(m.channel, m.note)].pop(0)
                file['notes'].append('%d %d %d %d %d' % (start, tick - start, m.channel, m.note, velocity))
    file['notes'].sort()
    out.append(file)
json.dump(out, sys.stdout)
`;

/** Reads MIDI files with Debian's python3-mido. */
export function midoFiles(paths: readonly string[]): MidoFile[] {
  const answer = execFileSync('/usr/bin/python3', ['-c', SCRIPT, ...paths], {
    encoding: 'utf8',
    maxBuffer: 64 * 1024 * 1024,
  });
  return JSON.parse(answer) as MidoFile[];
}
