import type { PhraseOut } from '../../core/exchange/handoff.ts';
import { changesOfWeave, keysOfWeave, sectionMarkers } from '../../core/exchange/weave-files.ts';
import { keyChanges } from '../../core/analyze/key-spans.ts';
import { changesIn } from '../../core/analyze/changes.ts';
import { lyricsIn } from '../../core/midi/lyrics.ts';
import type { Marker } from '../../core/midi/timing.ts';
import { intervalBetween, type Key } from '../../core/music/key.ts';
import { barStart, barsUntil } from '../../core/music/timeline.ts';
import { clipFromPart, isPitched, type Clip } from '../../core/phrase/clip.ts';
import { asChosen, type KeyChoice, type ProjectSetting } from '../../core/reuse/in-project.ts';
import { playingParts } from '../../core/split/split.ts';
import { tallyOf } from '../../core/split/tally.ts';
import { analysisIn } from '../../core/take/opened.ts';
import { pitchClass } from '../../core/music/pitch.ts';
import type { WovenPhrase } from '../../core/weave/cell.ts';
import { layWeave } from '../../core/weave/lay.ts';
import type { Weave } from '../../core/weave/weave.ts';
import { takeForm } from './form-of-take.ts';
import { openStored, type StoredTake } from './stored-take.ts';

/** What a take or a weave is as phrases that leave together; bars from 1. */
export interface ThingOut {
  phrases: PhraseOut[];
  bars: number;
  sections: { name: string; from: number; to: number }[];
  /** Notes that stay: set aside, by reason. */
  aside: { reason: string; notes: number }[];
  /** Words of a song, at the ticks of its parts. */
  words?: Marker[];
}

/** What a part of something has that no phrase of the library is. */
const NOT_KEPT = {
  ...{ isKept: false, saysId: false, hash: null, fitting: {}, recipe: { version: 1 as const, steps: [] } },
  ...{ tags: [], parents: [], purpose: null, project: '' },
};

/** A take as it stands: each part that plays, as it sounds. */
export function takeOut(
  stored: StoredTake,
  told: { name: string; rights: string; contributor: string; key: Key | null; chart: string },
  choice: KeyChoice,
  project: ProjectSetting | null,
): ThingOut {
  const opened = openStored(stored);
  const { take, split } = opened;
  const { timeline, ticks } = take.timing;
  const { key, name } = told;
  const bars = Math.max(1, barsUntil(timeline, ticks));
  const form = takeForm(stored, told.chart);
  const { chords, keySpans } = analysisIn(opened);
  const changes = key ? changesIn(take, chords, key, { startBar: 1, bars }) : null;
  const moves = keyChanges(keySpans, timeline);
  const marks = form.sections.map(({ section, startBar }) => ({
    tick: Math.round(barStart(timeline, startBar)),
    text: section.name,
  }));
  const phrases = playingParts(split).map(({ part, index }): PhraseOut => {
    const clip = {
      ...clipFromPart(take, split, index, key),
      length: Math.round(barStart(timeline, bars + 1)),
    };
    const chosen = asChosen(clip, clip.key, choice, project);
    const by = key && chosen.key ? intervalBetween(key.tonic, chosen.key.tonic) : 0;
    const keys = moves.map((move) => ({ ...move, tonic: pitchClass(move.tonic + by) }));
    return {
      ...NOT_KEPT,
      ...{ id: part.id, name: part.name, clip: chosen, bars },
      ...(keys.length > 0 && isPitched(clip) ? { keys } : {}),
      ...{ rights: told.rights, contributor: told.contributor, marks },
      sheaf: { id: stored.takeId, name },
      source: { take: name, sha256: stored.sha256, part: part.name, startBar: 1 },
      changes,
      capturedKey: key,
      keptKey: isPitched(clip) ? key : null,
    };
  });
  const tally = tallyOf(split);
  return {
    phrases,
    bars,
    words: lyricsIn(take.file),
    sections: form.sections.map(({ section, startBar }) => ({
      name: section.name,
      from: startBar,
      to: startBar + section.bars - 1,
    })),
    aside: split.setAside.flatMap(({ reason }, i) =>
      tally.setAside[i]! > 0 ? [{ reason, notes: tally.setAside[i]! }] : [],
    ),
  };
}

/** A weave as it sounds, part by part. */
export function weaveOut(
  weave: Weave,
  woven: readonly (readonly [id: string, phrase: WovenPhrase])[],
  told: { id: string; rights: string; contributor: string },
): ThingOut {
  const laid = layWeave(weave, new Map(woven));
  const lead = laid.pickup > 0 ? 1 : 0;
  const [marks, keys] = [sectionMarkers(laid), keysOfWeave(weave, laid)];
  const changes = changesOfWeave(laid, keys[0] ?? null);
  const bars = laid.bars - lead;
  const phrases = laid.parts
    .filter(({ clip }) => clip.notes.length > 0)
    .map(({ part, clip }): PhraseOut => {
      const key = clip.key ?? keys[0] ?? null;
      const inKey: Clip =
        isPitched(clip) && key ? { ...clip, key: { tonic: key.tonic, mode: key.mode } } : clip;
      return {
        ...NOT_KEPT,
        ...{ id: part.id, name: part.name, clip: inKey, bars, marks, keys },
        ...{ rights: told.rights, contributor: told.contributor },
        changes: changes.length > 0 ? changes : null,
        sheaf: { id: told.id, name: weave.title },
        source: { take: weave.title, sha256: '', part: part.name, startBar: 1 },
        capturedKey: inKey.key,
        keptKey: inKey.key,
      };
    });
  const sections = laid.sections.map(({ name, time, bar, bars: own }) => ({
    name: time > 1 ? `${name} ${time}` : name,
    from: bar,
    to: bar + own - 1,
  }));
  return { phrases, bars, sections, aside: [] };
}
