import assert from 'node:assert/strict';
import { readFileSync } from 'node:fs';
import { basename } from 'node:path';
import { test } from 'node:test';
import { readMidiFile } from '../../../src/core/midi/read.ts';
import { channelDataLength } from '../../../src/core/midi/smf.ts';
import { midicsvEvents, withoutMidicsv } from '../../support/midicsv.ts';
import { openmsxFiles, withoutOpenmsx } from '../../support/openmsx.ts';

const KINDS: Record<number, string> = {
  0x80: 'Note_off_c',
  0x90: 'Note_on_c',
  0xa0: 'Poly_aftertouch_c',
  0xb0: 'Control_c',
  0xc0: 'Program_c',
  0xd0: 'Channel_aftertouch_c',
  0xe0: 'Pitch_bend_c',
};

test(
  '31 real files: every channel message as midicsv reads it',
  { skip: withoutOpenmsx || withoutMidicsv },
  () => {
    for (const path of openmsxFiles) {
      const ours = readMidiFile(readFileSync(path)).file.tracks.flatMap((events, track) =>
        events
          .filter(({ status }) => status < 0xf0)
          .map(({ tick, status, data1, data2 }) => {
            const kind = status & 0xf0;
            const data =
              kind === 0xe0
                ? [data1 + data2 * 128]
                : channelDataLength(status) === 1
                  ? [data1]
                  : [data1, data2];
            return { track: track + 1, tick, kind: KINDS[kind]!, values: [status & 15, ...data] };
          }),
      );
      assert.deepEqual(ours, midicsvEvents(path), basename(path));
    }
  },
);
