import assert from 'node:assert/strict';
import { mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { after, test } from 'node:test';
import { MusicXML } from '@stringsync/musicxml';
import { Refusal } from '../../../src/cli/output.ts';
import { sheetCommand } from '../../../src/cli/sheet.ts';
import { writeMidiFile } from '../../../src/core/midi/write.ts';
import { parseChart } from '../../../src/core/music/chart.ts';
import { bandFile } from '../../../src/core/standins/band.ts';
import { openmsxFiles, withoutOpenmsx } from '../../support/openmsx.ts';

const folder = mkdtempSync(join(tmpdir(), 'basket-cli-sheet-'));
after(() => rmSync(folder, { recursive: true }));

const band = join(folder, 'crossing.mid');
writeFileSync(
  band,
  writeMidiFile(bandFile({ chart: 'Dm | Gm | A7 | Dm', style: 'river', bpm: 96, seed: 3, title: 'x', mishaps: [], looseness: 10 })), // prettier-ignore
);

function sheet(file: string, as: string, part?: string) {
  const out = join(folder, `sheet.${as}`);
  let text = '';
  const code = sheetCommand(
    file,
    { as, out, ...(part ? { part } : {}) },
    { json: true, answer: (line) => (text += line), problem: () => {} },
  );
  assert.equal(code, 0);
  return { answer: JSON.parse(text), written: readFileSync(out, 'utf8') };
}

test('a chord sheet is a chart that can be typed in again, and tells its key', () => {
  const { answer, written } = sheet(band, 'chords');
  assert.equal(answer.key, 'D minor');
  assert.deepEqual(
    answer.chords.slice(0, 4).map(({ bar, symbol }: { bar: number; symbol: string }) => [bar, symbol]),
    [
      [1, 'Dm'],
      [2, 'Gm'],
      [3, 'A7'],
      [4, 'Dm'],
    ],
  );
  const chart = written.split('\n').slice(3).join('\n');
  assert.equal(parseChart(chart, 4).length, answer.bars);
});

test('a lead sheet, a score and tablature: as many bars each, chords over the first staff, a string and a fret a note', () => {
  const lead = sheet(band, 'lead');
  const score = sheet(band, 'score');
  const tab = sheet(band, 'tab');
  const count = (text: string, what: string) => text.split(`<${what}`).length - 1;
  assert.equal(count(lead.written, 'measure '), lead.answer.bars);
  assert.equal(count(score.written, 'measure '), lead.answer.bars * count(score.written, 'score-part '));
  assert.equal(count(lead.written, 'harmony>'), lead.answer.chords.length);
  assert.ok(count(tab.written, 'fret>') > 0);
  assert.match(tab.written, /<sign>TAB<\/sign>/);
});

test(
  'of real files: a score has the bars of its file, and every sheet is as the elements of MusicXML 4.0 are made up',
  { skip: withoutOpenmsx },
  () => {
    for (const file of openmsxFiles.slice(0, 4)) {
      const { answer, written } = sheet(file, 'score');
      assert.equal(written.match(/<part /g)!.length * answer.bars, written.match(/<measure /g)!.length, file);
      for (const xml of [written, sheet(file, 'lead').written]) assert.equal(conformed(xml), bare(xml), file);
    }
  },
);

/**
 * A document as @stringsync/musicxml (MIT, npm) writes it again: its elements and their order are generated from the schema of MusicXML 4.0
 * (W3C, 2021), and what does not conform is left out or made to.
 */
const conformed = (xml: string) => bare(MusicXML.parse(xml).serialize());
const bare = (xml: string) => xml.replace(/<[?!][^>]*>/g, '').replace(/>\s+</g, '><').trim(); // prettier-ignore

test('the check on conforming can fail: an element in the wrong place is found', () => {
  const { written } = sheet(band, 'lead');
  const wrong = written.replace(/(<duration>\d+<\/duration>)(<voice>1<\/voice>)/g, '$2$1');
  assert.notEqual(wrong, written);
  assert.notEqual(conformed(wrong), bare(wrong));
});

test('bad input has its sentence', () => {
  const refused = (as: string, part: string | undefined, expected: RegExp) =>
    assert.throws(
      () => sheet(band, as, part),
      (error) => error instanceof Refusal && expected.test(error.message),
    );
  refused('poster', undefined, /a sheet is one of chords, lead, score, tab/);
  refused('lead', 'Nobody', /there is no part "Nobody"/);
  refused('lead', 'Kit', /no pitches/);
});
