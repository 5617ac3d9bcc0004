import { SelectField } from '../../ui/fields/SelectField.tsx';
import { channelOf, kindOf, STATUS } from '../../core/midi/smf.ts';
import { Circle, Square, Star } from 'lucide-react';
import { useEffect, useRef, useState } from 'react';
import { meterName, METERS, parseMeter } from '../../core/music/meters.ts';
import { beatMs } from '../../core/music/timeline.ts';
import { RECORDING_CLOCKS, type RecordingClock } from '../../core/capture/recording.ts';
import { chooseMarkSignal, mark } from '../../devices/hearing.ts';
import { startRecording, stopRecording } from '../../devices/recorder.ts';
import { changeSettings, setPrompt, useRecorder } from '../../devices/recorder-state.ts';
import { Button, Toggle } from '../../ui/Button.tsx';
import { Labeled } from '../../ui/fields/Labeled.tsx';
import { NumberField } from '../../ui/fields/NumberField.tsx';
import { clockTime } from '../../ui/time.ts';
import { PlayedIn } from './PlayedIn.tsx';

const CLOCK_WORDS: Record<RecordingClock, { title: string; about: string }> = {
  click: {
    title: 'our click',
    about: 'Bars begin with our click; whatever can follow MIDI Clock is sent it.',
  },
  followed: {
    title: "the source's clock",
    about: 'Recording waits for the source to start, and stops with it.',
  },
  none: { title: 'none', about: 'Recorded as it is played. Its tempo is found later.' },
};

/** Record, stop and mark; where it is; and by what time it is recorded. */
export function Transport() {
  const phase = useRecorder((state) => state.phase);
  const settings = useRecorder((state) => state.settings);
  const prompt = useRecorder((state) => state.prompt);
  const idle = phase === 'idle';
  const [isAsking, setAsking] = useState(false);
  return (
    <section aria-label="Recording" className="grid gap-2">
      <div className="flex items-center gap-2">
        {idle ? (
          <button
            type="button"
            className="flex h-11 items-center gap-2 rounded-full border-2 border-madder px-5 font-display text-lg font-semibold text-madder hover:bg-card"
            onClick={() => void startRecording()}
          >
            <Circle size={14} fill="currentColor" aria-hidden="true" /> Record
          </button>
        ) : (
          <button
            type="button"
            className="flex h-11 items-center gap-2 rounded-full border-2 border-madder bg-madder px-5 font-display text-lg font-semibold text-on-dye disabled:opacity-50"
            disabled={phase === 'starting' || phase === 'finishing'}
            onClick={() => void stopRecording()}
          >
            <Square size={13} fill="currentColor" aria-hidden="true" /> Stop
          </button>
        )}
        <MarkButton />
        <Position />
        <label className="ml-auto grid w-56 gap-1">
          <span className="label">Name of the take</span>
          <input
            className="field"
            maxLength={200}
            placeholder="by source and time"
            value={settings.name}
            onChange={(event) => changeSettings({ name: event.target.value })}
          />
        </label>
      </div>
      <fieldset
        disabled={!idle}
        className="grid grid-cols-[minmax(120px,1.4fr)_72px_76px_84px_92px_auto] items-end gap-2 disabled:opacity-60"
      >
        <Labeled label="Bars by">
          {(id) => (
            <select
              id={id}
              className="field w-full"
              title={CLOCK_WORDS[settings.clock].about}
              value={settings.clock}
              onChange={(event) => changeSettings({ clock: event.target.value as RecordingClock })}
            >
              {RECORDING_CLOCKS.map((clock) => (
                <option key={clock} value={clock}>
                  {CLOCK_WORDS[clock].title}
                </option>
              ))}
            </select>
          )}
        </Labeled>
        <NumberField
          label="BPM"
          min={20}
          max={400}
          value={settings.bpm}
          onChange={(bpm) => changeSettings({ bpm: bpm ?? settings.bpm })}
        />
        <SelectField
          label="Meter"
          value={meterName(settings.meter)}
          onChange={(value) => changeSettings({ meter: parseMeter(value) })}
        >
          {METERS.map((meter) => (
            <option key={meter}>{meter}</option>
          ))}
        </SelectField>
        <NumberField
          label="Count-in, bars"
          min={0}
          max={4}
          value={settings.countInBars}
          onChange={(countInBars) => changeSettings({ countInBars: countInBars ?? 0 })}
        />
        <NumberField
          label="Stop after, bars"
          min={1}
          max={999}
          empty="by hand"
          value={settings.bars}
          onChange={(bars) => changeSettings({ bars })}
        />
        <div className="flex h-8 items-center gap-1.5 pl-1">
          <Toggle
            on={settings.click}
            title="Hear the click"
            onClick={() => changeSettings({ click: !settings.click })}
          >
            Click
          </Toggle>
          <Toggle
            on={settings.monitor}
            title="Hear what stand-ins play; devices have sounds of their own"
            onClick={() => changeSettings({ monitor: !settings.monitor })}
          >
            Stand-ins sound
          </Toggle>
        </div>
      </fieldset>
      <p className="flex items-center gap-3 text-sm text-muted">
        <span>{CLOCK_WORDS[settings.clock].about}</span>
        {!isAsking && !prompt && (
          <Button small className="ml-auto" disabled={!idle} onClick={() => setAsking(true)}>
            Play something into it
          </Button>
        )}
      </p>
      {isAsking && idle && <PlayedIn onClose={() => setAsking(false)} />}
      {prompt && (
        <p className="flex items-center gap-2 rounded-[3px] bg-select px-2 py-1">
          <span>
            <b>"{prompt.name}"</b> is played into the first source that is ticked; its answer becomes the
            take.
          </span>
          <Button small className="ml-auto" disabled={!idle} onClick={() => setPrompt(null)}>
            Play nothing
          </Button>
        </p>
      )}
    </section>
  );
}

/** "That one": by hand, by shortcut, or by a chosen pad or pedal. */
function MarkButton() {
  const runs = useRecorder(({ phase }) => phase === 'recording');
  const marks = useRecorder((state) => state.marks);
  const markBy = useRecorder((state) => state.markBy);
  const choosingMark = useRecorder((state) => state.choosingMark);
  const markBars = useRecorder(({ settings }) => settings.markBars);
  const words = markBy ? `by ${signalWords(markBy)}` : 'choose a pad or pedal';
  return (
    <div className="grid justify-items-start">
      <Button
        disabled={!runs}
        onClick={() => mark()}
        title={`The ${markBars} bars before now are the good ones (M)`}
      >
        <Star size={14} aria-hidden="true" /> That one {marks > 0 && marks}
      </Button>
      <button
        type="button"
        className="text-xs text-muted underline decoration-rule underline-offset-3 hover:text-ink"
        onClick={() => chooseMarkSignal(choosingMark || markBy ? null : 'next')}
        title={
          markBy ? 'Let it play as before' : 'The next pad or pedal that is pressed will mark from then on'
        }
      >
        {choosingMark ? 'press it now, or leave it' : words}
      </button>
    </div>
  );
}

function signalWords({ status, data1 }: { status: number; data1: number }): string {
  const channel = channelOf(status) + 1;
  return kindOf(status) === STATUS.controller
    ? `controller ${data1}, channel ${channel}`
    : `key ${data1}, channel ${channel}`;
}

/** How often it is looked whether another beat has begun, in milliseconds. */
const PLACE_EVERY = 25;

/** Bar and beat, or how long; and how many notes have come. */
function Position() {
  const ref = useRef<HTMLSpanElement>(null);
  const { phase, startMs, settings, notes } = useRecorder();
  const { clock, bpm, meter } = settings;
  const runs = phase === 'recording' || phase === 'count-in';
  useEffect(() => {
    let shown: string | undefined;
    const draw = () => {
      const text = runs ? place(performance.now() - startMs, clock, bpm, meter) : '- . -';
      // The same text written again would be laid out again.
      if (ref.current && text !== shown) ref.current.textContent = shown = text;
    };
    draw();
    if (!runs) return;
    const timer = setInterval(draw, PLACE_EVERY);
    return () => clearInterval(timer);
  }, [runs, startMs, clock, bpm, meter]);
  return (
    <div className="grid pl-2">
      <span ref={ref} className="text-xl font-bold tabular-nums" aria-label="Bar and beat" />
      <span className="text-xs text-muted" role="status">
        {runs ? `${notes.toLocaleString('en')} notes` : phase === 'idle' ? 'bar and beat' : phase}
      </span>
    </div>
  );
}

function place(
  ms: number,
  clock: RecordingClock,
  bpm: number,
  meter: { numerator: number; denominator: number },
): string {
  if (clock !== 'click') return clockTime(Math.floor(Math.max(0, ms) / 1000));
  const beat = Math.floor(ms / beatMs(bpm, meter));
  const bar = Math.floor(beat / meter.numerator);
  const inBar = beat - bar * meter.numerator;
  return `${bar < 0 ? bar : bar + 1} . ${inBar + 1}`;
}
