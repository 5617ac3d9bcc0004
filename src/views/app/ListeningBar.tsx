import { Pin as PinIcon, Play, Repeat, Square } from 'lucide-react';
import { ThinSlider } from '../../ui/fields/ThinSlider.tsx';
import { useCallback, useRef, useState, type ReactNode } from 'react';
import { keyName } from '../../core/music/key.ts';
import { keyInProject, keyOfProject, movedInWords } from '../../core/reuse/in-project.ts';
import { hearStandIn } from '../../devices/hearing.ts';
import { useRecorder } from '../../devices/recorder-state.ts';
import type { MidiOutput } from '../../devices/source.ts';
import { answerKeys, canAnswer } from '../../devices/stand-ins.ts';
import {
  arePinned,
  hear,
  ownTempo,
  playOrStop,
  setOutput,
  setVolume,
  togglePins,
  usePlayer,
} from '../../sound/player.ts';
import { pinsOf } from '../../sound/arrange.ts';
import { useFollowing } from '../shared/listening/following.ts';
import { useActions } from '../../ui/actions.ts';
import { NumberInput } from '../../ui/fields/NumberInput.tsx';
import { ProgramOptions } from '../../ui/fields/ProgramOptions.tsx';
import { Toggle } from '../../ui/Button.tsx';
import { useRecipients } from '../api/queries.ts';
import { useHeardProject } from '../shared/project.ts';
import { ProjectPicker } from './ProjectPicker.tsx';

/** At the foot of every view: what sounds, how, and for which project. Everything that plays plays through it. */
export function ListeningBar() {
  useHeardProject();
  const {
    state,
    problem,
    listening,
    loop,
    volume,
    sound,
    project,
    output,
    inProject: forProject,
    throughChords,
  } = usePlayer();
  const outputs = useOutputs();
  const sounds = state === 'playing' || state === 'loading';
  const PlayIcon = sounds ? Square : Play;
  const [isOpen, setOpen] = useState(false);
  const key = heardKey(listening, forProject ? project : null);
  return (
    <footer
      aria-label="Listening"
      className="relative grid grid-cols-[auto_minmax(120px,1.2fr)_minmax(60px,0.8fr)_auto_auto] items-center gap-4 border-t border-rule bg-card px-5 middling:gap-3 middling:px-3"
    >
      <button
        type="button"
        className="flex size-9 items-center justify-center rounded-full bg-ink text-paper disabled:opacity-40"
        onClick={() => void playOrStop()}
        disabled={!listening}
        aria-label={sounds ? 'Stop' : 'Listen'}
      >
        <PlayIcon size={15} fill="currentColor" aria-hidden="true" className={sounds ? '' : 'ml-0.5'} />
      </button>
      <div className="flex min-w-0 items-center gap-2">
        <div className="min-w-0 flex-1" role="status" aria-live="polite">
          <div className="truncate font-bold" title={listening?.title}>
            {listening?.title ?? 'Nothing to listen to yet'}
          </div>
          <div className="truncate text-xs text-muted" title={listening?.subtitle}>
            {state === 'failed'
              ? problem
              : state === 'loading'
                ? 'loading the sounds'
                : (listening?.subtitle ?? 'choose something and press Space')}
          </div>
        </div>
        <PinButton />
      </div>
      <Progress />
      <Toggle on={loop} onClick={() => hear({ loop: !loop })} className="h-7" title="Play over and over (O)">
        <span className="flex items-center gap-1">
          <Repeat size={13} aria-hidden="true" /> Loop
        </span>
      </Toggle>
      <button
        type="button"
        className="hidden h-7 rounded-[3px] border border-rule px-2 text-xs narrow:block"
        aria-expanded={isOpen}
        onClick={() => setOpen(!isOpen)}
      >
        How it sounds
      </button>
      <div
        className={`flex items-end gap-4 middling:gap-3 narrow:absolute narrow:inset-x-0 narrow:bottom-full narrow:z-30 narrow:flex-wrap narrow:border-t narrow:border-rule narrow:bg-card narrow:p-3 ${isOpen ? '' : 'narrow:hidden'}`}
      >
        <TempoField />
        <Field label="Sound" id="listening-sound">
          <select
            id="listening-sound"
            className="h-6 w-32 truncate border-b border-rule bg-card font-bold middling:w-26"
            value={output ? OUTPUT + output.id : (sound ?? '')}
            onChange={(event) => chooseSound(event.target.value)}
          >
            <option value="">Its own</option>
            <optgroup label="Played on">
              {outputs.map(({ id, name }) => (
                <option key={id} value={OUTPUT + id}>
                  {name}
                </option>
              ))}
            </optgroup>
            <optgroup label="General MIDI">
              <ProgramOptions numbered />
            </optgroup>
          </select>
        </Field>
        <FittedField />
        <ProjectPicker />
        <div>
          <div className="label">Heard in</div>
          <div className="flex h-6 items-center gap-1.5">
            <span className="w-20 truncate font-bold middling:w-16" title={key.title}>
              {key.name}
            </span>
            <Toggle
              on={forProject}
              disabled={!project}
              onClick={() => hear({ inProject: !forProject, throughChords: false, tempo: null })}
              title={key.title ?? "Hear everything in the project's key and tempo (E)"}
            >
              project's
            </Toggle>
            {project?.chords && (
              <Toggle
                on={forProject && throughChords}
                onClick={() =>
                  hear({ inProject: true, throughChords: !(forProject && throughChords), tempo: null })
                }
                title={`Hear what has chords through the project's: ${project.chords} (E again)`}
              >
                chords
              </Toggle>
            )}
          </div>
        </div>
        <div>
          <div className="label">Volume</div>
          <div className="flex h-6 items-center">
            <ThinSlider label="Volume" value={volume} className="w-16" onValue={setVolume} />
          </div>
        </div>
      </div>
    </footer>
  );
}

/** Lets what is heard go on playing while others are tried under it. */
function PinButton() {
  const { listening, pins } = usePlayer();
  const own = listening ? pinsOf(listening) : [];
  useActions('Listening', [
    {
      title: 'Pin what is heard, or unpin it',
      run: () => togglePins(own),
      words: 'go on playing keep under parts take section',
    },
  ]);
  if (!listening) return null;
  const isPinned = arePinned(own, pins);
  return (
    <Toggle
      on={isPinned}
      className="flex-none"
      aria-label={isPinned ? 'Unpin what is heard' : 'Pin what is heard'}
      title="It goes on playing while you try others"
      onClick={() => togglePins(own)}
    >
      <PinIcon size={13} aria-hidden="true" />
    </Toggle>
  );
}

/** A field under its label: all of the bar's stand on one line. */
function Field({ label, id, children }: { label: string; id: string; children: ReactNode }) {
  return (
    <div>
      <label className="label block" htmlFor={id}>
        {label}
      </label>
      {children}
    </div>
  );
}

/** Before the id of a device, among the options of sounds. */
const OUTPUT = 'output ';

/** Sounds everything with its own sounds, with one of General MIDI, or on a device or stand-in. */
function chooseSound(value: string): void {
  const output = value.startsWith(OUTPUT)
    ? useRecorder.getState().outputs.find(({ id }) => OUTPUT + id === value)
    : undefined;
  if (output?.kind === 'stand-in') {
    hearStandIn(output.id);
    answerKeys(output.id);
  }
  setOutput(output ?? null);
  hear({ sound: output || value === '' ? null : Number(value) });
}

/** For which sound what is heard is fitted: none, its own, or the one that somebody has. */
function FittedField() {
  const fittedFor = usePlayer((player) => player.fittedFor);
  const { data: recipients = [] } = useRecipients();
  const choose = (value: string) => {
    const somebody = recipients.find(({ id }) => id === value);
    hear({ fittedFor: somebody ?? (value === 'own' ? 'own' : 'none') });
  };
  return (
    <Field label="Fitted" id="listening-fitted">
      <select
        id="listening-fitted"
        className="h-6 w-20 truncate border-b border-rule bg-card font-bold middling:w-16"
        title="Plain, as the phrase is fitted to its sound, or as somebody's card says"
        value={typeof fittedFor === 'string' ? fittedFor : fittedFor.id}
        onChange={({ target }) => choose(target.value)}
      >
        <option value="none">plain</option>
        <option value="own">its own</option>
        <optgroup label="As they have it">
          {recipients.map(({ id, name }) => (
            <option key={id} value={id}>
              {name}
            </option>
          ))}
        </optgroup>
      </select>
    </Field>
  );
}

/** Devices, and stand-ins that answer keys. */
function useOutputs(): MidiOutput[] {
  return useRecorder((recorder) => recorder.outputs).filter(
    ({ id, kind }) => kind === 'device' || canAnswer(id),
  );
}

/** The key in which something is heard, and how it got there. */
function heardKey(
  listening: ReturnType<typeof usePlayer.getState>['listening'],
  project: ReturnType<typeof usePlayer.getState>['project'],
): { name: string; title?: string | undefined } {
  const clip = listening?.lanes.find(({ clip: candidate }) => candidate.key)?.clip;
  const target = project && keyOfProject(project);
  if (!clip?.key) return { name: listening ? 'no key' : target ? keyName(target) : '' };
  if (!target) return { name: keyName(clip.key) };
  return { name: keyName(keyInProject(clip.key, target)), title: movedInWords(clip.key, target) };
}

/** Tempo: the music's own or the project's until another is typed; emptied, it goes back. */
function TempoField() {
  const state = usePlayer();
  const own = ownTempo(state);
  return (
    <Field label="Tempo" id="listening-tempo">
      <NumberInput
        id="listening-tempo"
        className="h-6 w-14 border-b border-rule bg-card font-bold"
        min={20}
        max={400}
        step="any"
        empty="own"
        value={Math.round((state.tempo ?? own) * 10) / 10}
        onValue={(tempo) => hear({ tempo })}
      />
    </Field>
  );
}

/** How far the music has come. */
function Progress() {
  const ref = useRef<HTMLDivElement>(null);
  const isPlaying = usePlayer(({ state }) => state === 'playing');
  const listening = usePlayer((player) => player.listening);
  const length = listening ? Math.max(...listening.lanes.map(({ clip }) => clip.length)) : 0;
  const styleOf = useCallback(
    (tick: number) => ({ transform: `scaleX(${length > 0 ? tick / length : 0})` }),
    [length],
  );
  useFollowing(ref, isPlaying, styleOf);
  return (
    <div className="h-1 bg-thread" aria-hidden="true">
      <div ref={ref} className="h-1 origin-left bg-madder" style={{ transform: 'scaleX(0)' }} />
    </div>
  );
}
