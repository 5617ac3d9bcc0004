import type { Key } from '../music/key.ts';
import { barTicks, makeTimeline, meterAt, type MeterChange, type TempoChange } from '../music/timeline.ts';
import { LEAVING_PPQ } from '../normalize/resolution.ts';
import { isPitched, type Clip } from '../phrase/clip.ts';
import { writeMidiFile } from '../midi/write.ts';
import { GM_DRUM_CHANNEL } from '../midi/gm.ts';
import type { MidiFile } from '../midi/smf.ts';
import type { Marker } from '../midi/timing.ts';
import { PITCHED_CHANNELS, placesOf, pickupMarkers, tracksToMidi, type TrackOut } from './midi-out.ts';
import { safeFileName, uniqueNames } from '../phrase/naming.ts';

import { asLeaving, sheafGroups, type HandOff, type LeavingPhrase } from './handoff.ts';
/** One file of all phrases, and in folders one of each sheaf. Sums stand in a folder of their own. */
export function togetherFiles(
  handOff: HandOff,
  phrases: readonly LeavingPhrase[],
): { name: string; bytes: Uint8Array }[] {
  if (phrases.length === 0) return [];
  const isFlat = handOff.layout === 'flat';
  const title = safeFileName(handOff.title);
  const all = sheafGroups(handOff.phrases);
  // One sheaf that is all of it is there already.
  const sheaves = isFlat || all.length === 1 ? [] : all.filter((group) => group.length > 1);
  const groups = [
    { name: isFlat ? `${title}_all` : title, of: handOff },
    ...sheaves.map((group) => ({
      name: safeFileName(handOff.phrases[group[0]!]!.sheaf!.name),
      of: { ...handOff, phrases: group.map((i) => handOff.phrases[i]!) },
    })),
  ];
  const beside = isFlat ? phrases.map(({ path }) => path.replace(/\.mid$/, '')) : [];
  const names = uniqueNames([...beside, ...groups.map(({ name }) => name)]).slice(beside.length);
  return groups.map(({ of }, k) => ({
    name: `${isFlat ? '' : 'together/'}${names[k]}.mid`,
    bytes: writeMidiFile(combine(of)),
  }));
}

/**
 * All phrases in one file, one track each: those of a sheaf at once, all else one after another, each from a
 * bar line, with its own tempo, meter and key and a marker that names it. Each has a channel of its own; where there are
 * not enough, those that sound together have, and the next group uses them anew.
 */
function combine(handOff: HandOff): MidiFile {
  const clips = handOff.phrases.map((phrase) => asLeaving(phrase, handOff.plain, LEAVING_PPQ));
  const tempos: TempoChange[] = [];
  const meters: MeterChange[] = [];
  const keys: ({ tick: number } & Key)[] = [];
  const markers: Marker[] = [];
  const tracks = new Map<number, TrackOut>();
  const isKit = (clip: Clip) => !isPitched(clip) && clip.channel === GM_DRUM_CHANNEL;
  const isRoomy = clips.filter((clip) => !isKit(clip)).length <= PITCHED_CHANNELS.length;
  let at = 0;
  let used = 0;
  for (const group of sheafGroups(handOff.phrases)) {
    const lead = clips[group[0]!]!;
    const [first] = group.map((i) => handOff.phrases[i]!);
    markers.push({ tick: at, text: group.length > 1 ? first!.sheaf!.name : first!.name });
    // Phrases of a sheaf begin bar one together, whichever of them have a pickup before it.
    const pickup = Math.max(...group.map((i) => clips[i]!.pickup));
    markers.push(...pickupMarkers({ pickup }, at));
    const offsetOf = (i: number) => at + pickup - clips[i]!.pickup;
    const led = <Change extends { tick: number }>(change: Change) => ({
      ...change,
      tick: change.tick === 0 ? at : change.tick + offsetOf(group[0]!),
    });
    tempos.push(...lead.timeline.tempos.map(led));
    meters.push(...lead.timeline.meters.map(led));
    const key = group.map((i) => clips[i]!.key).find((one) => one !== null);
    if (key) keys.push({ tick: at, ...key });
    const kits = group.map((i) => isKit(clips[i]!));
    const places = placesOf(kits, isRoomy ? used : 0);
    used += kits.filter((kit) => !kit).length;
    group.forEach((i, k) => {
      const { program, notes, controls } = clips[i]!;
      const later = <Item extends { tick: number }>(item: Item) => ({
        ...item,
        tick: item.tick + offsetOf(i),
      });
      tracks.set(i, {
        name: handOff.phrases[i]!.name,
        ...places[k]!,
        program: handOff.plain ? null : program,
        programTick: at,
        notes: notes.map(later),
        controls: controls.map(later),
      });
    });
    const bar = barTicks(LEAVING_PPQ, meterAt(lead.timeline, Math.max(0, lead.length - 1)));
    const longest = Math.max(...group.map((i) => offsetOf(i) - at + clips[i]!.length));
    at += Math.ceil(longest / bar) * bar;
  }
  return tracksToMidi(
    { timeline: makeTimeline(LEAVING_PPQ, tempos, meters), keys, name: handOff.title, length: at, markers },
    clips.map((_, i) => tracks.get(i)!),
  );
}
