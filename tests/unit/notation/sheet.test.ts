import assert from 'node:assert/strict';
import { test } from 'node:test';
import createVerovioModule from 'verovio/wasm';
import { VerovioToolkit } from 'verovio/esm';
import { parseMidi } from 'midi-file';
import { lyricLines } from '../../../src/core/midi/lyrics.ts';
import { parseKey } from '../../../src/core/music/key.ts';
import { partsOnSheet, sheetXml, type SheetSetting } from '../../../src/core/notation/sheet.ts';
import type { Clip } from '../../../src/core/phrase/clip.ts';
import { barOf } from '../../support/clips.ts';

/** A reader of MusicXML that is not ours: verovio (RISM, LGPL-3.0, npm). */
const verovio = new VerovioToolkit(await createVerovioModule());

/** Pitches as they sound, in order of time, of each part. */
function soundingIn(xml: string): number[][] {
  assert.ok(verovio.loadData(xml), 'verovio cannot read it');
  const { tracks } = parseMidi(Buffer.from(verovio.renderToMIDI(), 'base64'));
  return tracks
    .map((track) =>
      track.flatMap((event) => (event.type === 'noteOn' && event.velocity > 0 ? [event.noteNumber] : [])),
    ) // prettier-ignore
    .filter((pitches) => pitches.length > 0);
}

const setting = (more: Partial<SheetSetting> = {}): SheetSetting => ({
  ...{ title: 'Barrow', key: parseKey('C')!, bars: 1, changes: [] },
  ...more,
});

const tune: Clip = barOf([[0, 480, 72], [480, 480, 74], [960, 960, 76]], { role: 'lead' }); // prettier-ignore

test('keys that reach both ways stand on two staves of one part; what lies on one side on one', () => {
  const keys = barOf([[0, 960, 48], [0, 480, 64], [480, 480, 67], [960, 960, 43], [960, 960, 72]]); // prettier-ignore
  const both = sheetXml('score', [{ name: 'Keys', clip: keys }], setting());
  assert.equal(both.match(/<staves>2<\/staves>/g)?.length, 1);
  assert.deepEqual(soundingIn(both).flat().sort(), [43, 48, 64, 67, 72]);
  const high = sheetXml('score', [{ name: 'Keys', clip: { ...keys, notes: keys.notes.filter(({ pitch }) => pitch > 60) } }], setting()); // prettier-ignore
  assert.doesNotMatch(high, /<staves>/);
});

test('a transposing instrument reads its own key and sounds as before (a Bb one reads a whole tone higher)', () => {
  const changes = [{ beat: 0, beats: 4, symbol: 'C', numeral: 'I' }];
  for (const [transposes, fifths, step, root] of [
    ['Bb', 2, 'D', 'D'],
    ['Eb', 3, 'A', 'A'],
    ['F', 1, 'G', 'G'],
  ] as const) {
    const xml = sheetXml('lead', [{ name: 'Tune', clip: tune }], setting({ transposes, changes }));
    assert.match(xml, new RegExp(`<fifths>${fifths}</fifths>`));
    assert.match(xml, new RegExp(`<pitch><step>${step}</step>`));
    assert.match(xml, new RegExp(`<root-step>${root}</root-step>`));
    assert.deepEqual(soundingIn(xml), [[72, 74, 76]]);
  }
});

test('a tune stands in the clef that somebody reads, and sounds as before', () => {
  for (const [clef, written] of [
    ['alto', '<sign>C</sign><line>3</line>'],
    ['tenor', '<sign>C</sign><line>4</line>'],
    ['bass', '<sign>F</sign><line>4</line>'],
  ] as const) {
    const xml = sheetXml('lead', [{ name: 'Tune', clip: tune }], setting({ clef }));
    assert.ok(xml.includes(`<clef>${written}</clef>`));
    assert.deepEqual(soundingIn(xml), [[72, 74, 76]]);
  }
});

test('a pickup is an incomplete bar before bar one, in every part', () => {
  const led = { ...barOf([[1440, 480, 67], [1920, 960, 72], [2880, 960, 76]], { role: 'lead' }), length: 3840, pickup: 1920 }; // prettier-ignore
  const under = { ...barOf([[1920, 1920, 48]], { role: 'bass' }), length: 3840, pickup: 1920 }; // prettier-ignore
  const xml = sheetXml('score', [{ name: 'Tune', clip: led }, { name: 'Bass', clip: under }], setting()); // prettier-ignore
  const first = [...xml.matchAll(/<measure number="0" implicit="yes">(.*?)<\/measure>/g)].map(
    ([, body]) => body!,
  );
  assert.equal(first.length, 2);
  for (const body of first)
    assert.equal(
      [...body.matchAll(/<duration>(\d+)</g)].reduce((sum, [, units]) => sum + Number(units), 0),
      12,
    );
  assert.deepEqual(soundingIn(xml), [[67, 72, 76], [48]]);
});

test('words stand under the notes that sing them, syllables joined as they were told', () => {
  const words = [
    { tick: 0, text: 'Lan-' },
    { tick: 470, text: 'tern ' },
    { tick: 960, text: 'light' },
  ];
  const xml = sheetXml('lead', [{ name: 'Tune', clip: tune }], setting({ words }));
  assert.deepEqual(
    [...xml.matchAll(/<syllabic>(\w+)<\/syllabic><text>(\w+)</g)].map(
      ([, where, text]) => `${text} ${where}`,
    ),
    ['Lan begin', 'tern end', 'light single'],
  );
  assert.deepEqual(lyricLines([...words, { tick: 1000, text: '\\Salt ' }, { tick: 1100, text: 'wind' }]), [
    'Lantern light',
    'Salt wind',
  ]);
});

test('hats and cymbals have crosses, drums have heads (common practice)', () => {
  const kit = barOf([[0, 240, 36], [480, 240, 42], [960, 240, 38], [1440, 240, 49]], { role: 'drums', channel: 9 }); // prettier-ignore
  const xml = sheetXml('score', [{ name: 'Kit', clip: kit }], setting({ key: null }));
  assert.equal(xml.match(/<notehead>x</g)?.length, 2);
});

test('which parts stand on a sheet: the tune, what is fretted, all; a sentence where there are none', () => {
  const [lead, kit, bass] = ([['lead', 72], ['drums', 36], ['bass', 40]] as const).map(([role, pitch]) => ({ name: role, clip: barOf([[0, 480, pitch]], { role }) })); // prettier-ignore
  const on = (as: 'lead' | 'score' | 'tab', parts: (typeof lead)[]) => {
    const found = partsOnSheet(as, parts as { name: string; clip: Clip }[]);
    return typeof found === 'string' ? found : found.map(({ name }) => name).join();
  };
  assert.equal(on('lead', [kit, bass, lead]), 'lead');
  assert.equal(on('tab', [kit, bass, lead]), 'bass');
  assert.equal(on('score', [kit, bass, lead]), 'lead,bass,drums', 'from high to low, drums below');
  assert.equal(on('lead', [kit, bass]), 'bass');
  const keys = { name: 'keys', clip: barOf([[0, 480, 65]], { role: 'keys' }) };
  assert.equal(on('lead', [kit, bass, keys as typeof lead]), 'keys', 'the highest, where no role is a tune');
  assert.equal(on('lead', [kit]), 'There is no tune in it.');
  assert.equal(on('tab', [lead]), 'There is no guitar and no bass in it.');
});
