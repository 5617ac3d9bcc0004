import { barTicks, makeTimeline, meterAt, type MeterChange, type TempoChange } from '../music/timeline.ts';
import { LEAVING_PPQ } from '../normalize/resolution.ts';
import { isPitched, type Clip } from '../phrase/clip.ts';
import { GM_DRUM_CHANNEL } from '../midi/gm.ts';
import type { Marker } from '../midi/timing.ts';
import { safeFileName, uniqueNames } from '../phrase/naming.ts';
import { sheafGroups, type HandOff, type KeyChange } from './handoff.ts';
import { keysIn, leavingClip, marksOf, tracksOf, written, type LeavingPhrase } from './leaving.ts';
import { PITCHED_CHANNELS, placesOf, pickupMarkers, type TrackOut } from './midi-out.ts';

/** Several phrases in one file. */
export interface TogetherFile {
  /** Its folders and name. */
  path: string;
  /** What they are together. */
  title: string;
  phrases: HandOff['phrases'];
  bytes: Uint8Array;
}

/** One file of all phrases, and in folders one of each sheaf. Sums stand in a folder of their own. */
export function togetherFiles(handOff: HandOff, phrases: readonly LeavingPhrase[]): TogetherFile[] {
  if (phrases.length === 0) return [];
  const isFlat = handOff.layout === 'flat';
  const title = safeFileName(handOff.title);
  const all = sheafGroups(handOff.phrases);
  // One sheaf that is all of it is there already.
  const sheaves = isFlat || all.length === 1 ? [] : all.filter((group) => group.length > 1);
  const groups = [
    { name: isFlat && handOff.out.as !== 'one' ? `${title}_all` : title, title: handOff.title, of: handOff },
    ...sheaves.map((group) => ({
      name: safeFileName(handOff.phrases[group[0]!]!.sheaf!.name),
      title: handOff.phrases[group[0]!]!.sheaf!.name,
      of: { ...handOff, phrases: group.map((i) => handOff.phrases[i]!) },
    })),
  ];
  const beside =
    isFlat && handOff.out.as !== 'one' ? phrases.map(({ path }) => path.replace(/\.mid$/, '')) : [];
  const names = uniqueNames([...beside, ...groups.map(({ name }) => name)]).slice(beside.length);
  return groups.map(({ title: told, of }, k) => ({
    path: `${isFlat ? '' : 'together/'}${names[k]}.mid`,
    title: told,
    phrases: of.phrases,
    bytes: combine(of),
  }));
}

/**
 * All phrases in one file, one track each: those of a sheaf at once, all else one after another, each from a
 * bar line, with its own tempo, meter and key and a marker that names it. Each has a channel of its own; where there are
 * not enough, those that sound together have, and the next group uses them anew.
 */
function combine(handOff: HandOff): Uint8Array {
  const { out } = handOff;
  const ppq = out.ppq ?? LEAVING_PPQ;
  const clips = handOff.phrases.map((phrase) => leavingClip(phrase, handOff, ppq).clip);
  const tempos: TempoChange[] = [];
  const meters: MeterChange[] = [];
  const keys: KeyChange[] = [];
  const markers: Marker[] = [];
  const tracks = new Map<number, TrackOut[]>();
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
    if (out.markers) {
      const teller = group.find((i) => (handOff.phrases[i]!.changes?.length ?? 0) > 0) ?? group[0]!;
      const told = marksOf(handOff.phrases[teller]!, clips[teller]!);
      markers.push(...told.map(({ tick, text }) => ({ tick: tick + offsetOf(teller), text })));
    }
    const led = <Change extends { tick: number }>(change: Change) => ({
      ...change,
      tick: change.tick === 0 ? at : change.tick + offsetOf(group[0]!),
    });
    tempos.push(...lead.timeline.tempos.map(led));
    meters.push(...lead.timeline.meters.map(led));
    const keyed = group.map((i) => keysIn(handOff.phrases[i]!, clips[i]!)).find((one) => one.length > 0);
    keys.push(...(keyed ?? []).map(led));
    const kits = group.map((i) => isKit(clips[i]!));
    const places = placesOf(kits, isRoomy ? used : 0);
    used += kits.filter((kit) => !kit).length;
    group.forEach((i, k) => {
      const phrase = handOff.phrases[i]!;
      const later = <Item extends { tick: number }>(item: Item) => ({
        ...item,
        tick: item.tick + offsetOf(i),
      });
      tracks.set(
        i,
        tracksOf({ phrase, name: phrase.name, clip: clips[i]! }, out).map((track) => ({
          ...track,
          ...places[k]!,
          programTick: at,
          notes: track.notes.map(later),
          controls: track.controls.map(later),
        })),
      );
    });
    const bar = barTicks(ppq, meterAt(lead.timeline, Math.max(0, lead.length - 1)));
    const longest = Math.max(...group.map((i) => offsetOf(i) - at + clips[i]!.length));
    at += Math.ceil(longest / bar) * bar;
  }
  return written(
    { timeline: makeTimeline(ppq, tempos, meters), keys, name: handOff.title, length: at, markers },
    clips.flatMap((_, i) => tracks.get(i)!),
    out,
  );
}
