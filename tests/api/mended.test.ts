import assert from 'node:assert/strict';
import { test } from 'node:test';
import { readTakes, type Take } from '../../src/core/capture/take.ts';
import { writeMidiFile } from '../../src/core/midi/write.ts';
import { meterAt, ticksToSeconds } from '../../src/core/music/timeline.ts';
import type { Move } from '../../src/core/split/moves.ts';
import { mendsFor } from '../../src/core/split/proposals.ts';
import { bandFile } from '../../src/core/standins/band.ts';
import { parseMidi } from 'midi-file';
import { assertProblem } from '../support/api.ts';
import { endOfTrack, midiBytes, trackOf, type NoteSpec } from '../support/midi.ts';
import { serverForTests } from '../support/suite.ts';
import { replayMoves } from '../support/take.ts';

/** What a take says of itself once something was put right: accounts, lists, search and phrases follow. */

const { api } = await serverForTests({ demo: true });

interface Row {
  id: string;
  name: string;
  account: { findings: { code: string }[]; barsReceived: number; barsAsked: number | null };
}

async function takeCalled(name: string): Promise<Row> {
  const { takes } = (await api.get(`/api/takes?limit=1000&search=${encodeURIComponent(name)}`)).body;
  const found = takes.find((take: Row) => take.name === name);
  assert.ok(found, `"${name}" is in the demo`);
  return found;
}

async function original(id: string): Promise<Take> {
  return readTakes((await api.get(`/api/takes/${id}/file`)).body as Uint8Array)[0]!;
}

const move = (id: string, one: object) => api.post(`/api/takes/${id}/moves`, { move: one });
const undo = (id: string) => api.send('POST', `/api/takes/${id}/undo`);

const codes = async (id: string): Promise<string[]> =>
  (await api.get(`/api/takes/${id}`)).body.account.findings.map(({ code }: { code: string }) => code);

/** The usual way of a proposal of a kind, as the take now stands. */
async function wayOf(id: string, kind: string): Promise<Move> {
  const { moves, movesDone } = (await api.get(`/api/takes/${id}`)).body;
  const { take, split } = replayMoves(await original(id), moves.slice(0, movesDone));
  const proposal = mendsFor(take, split).find((one) => one.kind === kind);
  assert.ok(proposal, `${kind} is proposed`);
  return proposal.ways[0]!.move;
}

for (const [name, kind, code] of [
  ['Frost on the glass', 'doubled', 'doubled'],
  ['Salt overture', 'mixedKit', 'oneTrack'],
  ['Market opening', 'merge', 'pieces'],
] as const)
  test(`"${name}" no longer accuses once "${kind}" was accepted, in the account and in the list; undone, it does`, async () => {
    const { id, account } = await takeCalled(name);
    assert.ok(account.findings.some((finding) => finding.code === code));
    let moves = 0;
    while ((await codes(id)).includes(code) && moves < 6) {
      assert.equal((await move(id, await wayOf(id, kind))).status, 200);
      moves++;
    }
    assert.ok(!(await codes(id)).includes(code), `${code} is still told`);
    assert.ok(!(await takeCalled(name)).account.findings.some((finding) => finding.code === code));
    for (; moves > 0; moves--) await undo(id);
    assert.ok((await codes(id)).includes(code));
  });

test('a late start that was pulled is no longer told, and the bars that were asked have come', async () => {
  const { id } = await takeCalled('Tide turning');
  const take = await original(id);
  assert.ok((await codes(id)).includes('late'));
  const { timeline } = take.timing;
  // A beat and a half, as the device came in: bars begin there.
  const first = take.notes.tick.reduce((least, tick) => Math.min(least, tick));
  const bar = 4 * timeline.ppq;
  const anchors = [0, 1, 2, 3, 4, 5, 6, 7, 8].map((i) => [first + i * bar, i * bar]);
  await move(id, { move: 'retime', how: 'the first note on the first bar', anchors });
  const told = await codes(id);
  assert.ok(!told.includes('late') && !told.includes('tail'), told.join(', '));
  await undo(id);
  assert.ok((await codes(id)).includes('late'));
});

test('a take that is renamed is found by its new name, and so are its phrases; the old name finds nothing', async () => {
  const { id } = await takeCalled('Storm on the crossing');
  const inTakes = async (word: string) =>
    (await api.get(`/api/takes?search=${word}`)).body.takes.map((take: Row) => take.id);
  const inPhrases = async (word: string) =>
    (await api.get(`/api/phrases?text=${word}`)).body.phrases.map((one: { takeId: string }) => one.takeId);
  const phrases = (await inPhrases('crossing')).filter((takeId: string) => takeId === id).length;
  await move(id, { move: 'nameTake', name: 'Hailstones at the quay' });
  assert.deepEqual(await inTakes('hailstones'), [id]);
  assert.equal((await inPhrases('hailstones')).length, phrases);
  await move(id, { move: 'nameTake', name: 'Sleet at the quay' });
  assert.deepEqual([await inTakes('hailstones'), await inPhrases('hailstones')], [[], []]);
  assert.deepEqual(await inTakes('sleet'), [id]);
  await undo(id);
  await undo(id);
  assert.deepEqual(await inTakes('sleet'), []);
  assert.equal((await inPhrases('crossing')).filter((takeId: string) => takeId === id).length, phrases);
});

test('what several moves do as one is looked into wherever single ones are: name and key of the take', async () => {
  const { id, name } = await takeCalled('Goose brushes');
  await move(id, {
    move: 'together',
    title: 'as usual',
    moves: [
      { move: 'nameTake', name: 'Brushes of geese' },
      { move: 'chooseKey', key: { tonic: 5, mode: 'lydian' } },
    ],
  });
  const row = (await api.get(`/api/takes/${id}`)).body;
  assert.deepEqual([row.name, row.chosenKey], ['Brushes of geese', { tonic: 5, mode: 'lydian' }]);
  await undo(id);
  const back = (await api.get(`/api/takes/${id}`)).body;
  assert.deepEqual([back.name, back.chosenKey], [name, null]);
});

/** Groups of three beats, accented, in a file that says nothing of meter. */
const waltz = (bars: number): NoteSpec[] =>
  Array.from({ length: bars }, (_, bar): NoteSpec[] => [
    [bar * 1440, 460, 36, 112],
    [bar * 1440, 460, 43 + (bar % 2) * 2, 104],
    [bar * 1440 + 480, 400, 60, 70],
    [bar * 1440 + 960, 400, 64, 70],
  ]).flat();

test('a meter is set for the whole take or from a bar on, as a move: bars, lists and what leaves follow', async () => {
  const { body } = await api.upload(midiBytes([trackOf(waltz(12))]), 'waltz.mid');
  const id = body.takeIds[0];
  assert.equal((await api.get(`/api/takes/${id}`)).body.facts.bars, 9, 'as 4/4');
  await move(id, { move: 'meter', fromTick: 0, numerator: 3, denominator: 4 });
  const row = (await api.get(`/api/takes/${id}`)).body;
  assert.equal(row.facts.bars, 12);
  const meters = (bytes: Uint8Array) =>
    parseMidi(bytes).tracks.flatMap((track) =>
      track.flatMap((event) =>
        event.type === 'timeSignature' ? [`${event.numerator}/${event.denominator}`] : [],
      ),
    );
  assert.deepEqual(meters((await api.get(`/api/takes/${id}/parts/p1`)).body), ['3/4']);
  const made = await api.post('/api/phrases', { takeId: id, parts: ['p1'], startBar: 1, bars: 4 });
  const phrase = (await api.get(`/api/phrases/${made.body.phraseIds[0]}`)).body;
  assert.deepEqual([phrase.meterNumerator, phrase.meterDenominator, phrase.bars], [3, 4, 4]);

  // From bar 5 on in six eighths: the bars before keep theirs.
  await move(id, { move: 'meter', fromTick: 4 * 1440, numerator: 6, denominator: 8 });
  const { moves, movesDone } = (await api.get(`/api/takes/${id}`)).body;
  const { timeline } = replayMoves(await original(id), moves.slice(0, movesDone)).take.timing;
  const at = (tick: number) => `${meterAt(timeline, tick).numerator}/${meterAt(timeline, tick).denominator}`;
  assert.deepEqual([at(0), at(3 * 1440), at(4 * 1440), at(9 * 1440)], ['3/4', '3/4', '6/8', '6/8']);
  assertProblem(await move(id, { move: 'meter', fromTick: 0, numerator: 4, denominator: 5 }), 400, /one of/);
  await undo(id);
  await undo(id);
  assert.equal((await api.get(`/api/takes/${id}`)).body.facts.bars, 9);
});

test('trailing silence is cut as a move, and no note with it', async () => {
  // The track ends 21 bars after the last note.
  const notes = trackOf(waltz(4)).slice(0, -1);
  const { body } = await api.upload(midiBytes([[...notes, endOfTrack(100 * 480)]]), 'silence.mid');
  const id = body.takeIds[0];
  const before = (await api.get(`/api/takes/${id}`)).body.facts;
  const cut = await move(id, { move: 'end', tick: 16 * 480 });
  assert.equal(cut.status, 200, JSON.stringify(cut.body));
  assert.ok(cut.body.facts.bars < before.bars, `${cut.body.facts.bars} of ${before.bars}`);
  assert.equal(cut.body.facts.notes, before.notes);
  await undo(id);
  assert.deepEqual((await api.get(`/api/takes/${id}`)).body.facts, before);
});

test('the time at which notes sound stays, whatever meter a take is written in', async () => {
  const bytes = writeMidiFile(
    bandFile({ chart: 'Dm | Gm', style: 'river', bpm: 96, seed: 77, title: 'Ferry' }),
  );
  const { body } = await api.upload(bytes, 'ferry_77.mid');
  const id = body.takeIds[0];
  await move(id, { move: 'meter', fromTick: 0, numerator: 7, denominator: 8 });
  const { moves } = (await api.get(`/api/takes/${id}`)).body;
  const take = await original(id);
  const changed = replayMoves(take, moves).take;
  const seconds = ({ notes, timing }: Take) =>
    Array.from(notes.tick, (tick) => ticksToSeconds(timing.timeline, tick));
  assert.deepEqual(seconds(changed), seconds(take));
});

test('numerals of a phrase follow the new key of its take as its own key does', async () => {
  const bytes = writeMidiFile(
    bandFile({ chart: 'Am | F | C | G', style: 'river', bpm: 96, seed: 5, title: 'Ferry' }),
  );
  const { body } = await api.upload(bytes, 'ferry_am.mid');
  const id = body.takeIds[0];
  await move(id, { move: 'chooseKey', key: { tonic: 9, mode: 'minor' } });
  const made = await api.post('/api/phrases', {
    takeId: id,
    parts: ['p2'],
    startBar: 1,
    bars: 4,
    keep: true,
  });
  const phrase = async () => (await api.get(`/api/phrases/${made.body.phraseIds[0]}`)).body;
  const before = await phrase();
  assert.deepEqual(
    [before.takeKey, before.numerals.trim().split(' ')[0]],
    [{ tonic: 9, mode: 'minor' }, 'i'],
  );
  await move(id, { move: 'chooseKey', key: { tonic: 0, mode: 'major' } });
  const after = await phrase();
  // One key, wherever it is read: numerals never name another than the phrase's own.
  assert.equal(after.numerals.trim().split(' ')[0], after.takeKey.tonic === 0 ? 'vi' : 'i');
});
