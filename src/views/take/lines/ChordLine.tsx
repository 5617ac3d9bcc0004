import { Popover } from 'radix-ui';
import { useId, useRef, useState, type KeyboardEvent } from 'react';
import type { ChordFinding } from '../../../core/analyze/chords.ts';
import { keyAt, type KeySpan } from '../../../core/analyze/key-spans.ts';
import { chordNumeral, chordSymbol, parseSymbol } from '../../../core/music/chord.ts';
import { keyLabel, keyName, type Key } from '../../../core/music/key.ts';
import { barStart, beatTicks, meterAt, type Timeline } from '../../../core/music/timeline.ts';
import type { Section } from '../../../core/music/form.ts';
import type { SingleMove } from '../../../core/split/moves.ts';
import { certaintyWords, isDoubtful } from '../../../core/words.ts';
import { Button } from '../../../ui/Button.tsx';
import { PopoverCard } from '../../../ui/PopoverCard.tsx';
import { type TimeWindow, timeScale, pixelsFor } from '../../../ui/drawing/time-window.ts';
import { pixelsOf } from '../spans.ts';

/** What can be done to the chords of a take; all are moves. */
export interface ChordEditing {
  key: Key | null;
  timeline: Timeline;
  onMove: (move: SingleMove | { move: 'together'; title: string; moves: SingleMove[] }) => void;
}

/** The chords over time: symbol and numeral, the ink as strong as they are certain; each can be corrected. */
export function ChordLine({
  chords,
  keySpans,
  sections,
  editing,
  window,
  width,
  current,
  onCurrent,
}: {
  chords: readonly ChordFinding[];
  keySpans: readonly KeySpan[];
  sections: readonly Section[];
  editing: ChordEditing;
  window: TimeWindow;
  width: number;
  /** Place of the chord that the keys work on. */
  current: number;
  onCurrent: (at: number) => void;
}) {
  const line = useRef<HTMLDivElement>(null);
  // Where names would not find room, the changes of whole sections are told instead.
  const isFar = barWidthIn(editing.timeline, window, width) < READABLE;
  /** Chords with which a key begins, by their place: their numerals say it, as a harmony book writes it ("G: ii"). */
  const newKeys = new Map(
    keySpans.slice(1).map((span) => [chords.findIndex(({ bar }) => bar >= span.startBar), span]),
  );
  const [opened, setOpened] = useState<number | null>(null);
  const go = (at: number) => {
    const next = Math.min(Math.max(0, at), chords.length - 1);
    onCurrent(next);
    line.current?.querySelector<HTMLElement>(`[data-chord="${next}"]`)?.focus();
  };
  const onKeyDown = (event: KeyboardEvent) => {
    if (opened !== null) return;
    const by = { ArrowRight: 1, ArrowLeft: -1 }[event.key];
    if (by === undefined) return;
    event.preventDefault();
    event.stopPropagation();
    go(current + by);
  };
  return (
    <div
      ref={line}
      role="group"
      aria-label="Chord line"
      className="relative h-9.5 flex-1 overflow-hidden"
      onKeyDown={onKeyDown}
    >
      {isFar && (
        <SectionChanges
          chords={chords}
          sections={sections}
          editing={editing}
          keySpans={keySpans}
          window={window}
          width={width}
        />
      )}
      {chords.map((chord, at) => {
        if (isFar) return null;
        const place = pixelsOf(chord.startTick, chord.endTick, window, width);
        if (!place) return null;
        return (
          <ChordBox
            key={`${chord.startTick} ${chord.endTick}`}
            chord={chord}
            next={chords[at + 1]}
            at={at}
            place={place}
            editing={{ ...editing, key: keyAt(keySpans, chord.bar) ?? editing.key }}
            newKey={newKeys.get(at)}
            isCurrent={at === current}
            isOpen={opened === at}
            onOpen={(open) => {
              setOpened(open ? at : null);
              onCurrent(at);
            }}
          />
        );
      })}
    </div>
  );
}

/** From so many pixels a bar on, chords have their names. */
const READABLE = 38;

function barWidthIn(timeline: Timeline, window: TimeWindow, width: number): number {
  return pixelsFor(timeScale(window, width), barStart(timeline, 2) - barStart(timeline, 1));
}

/** The changes of each section in sight, each chord once as long as it goes on. */
function SectionChanges({
  chords,
  sections,
  editing: { timeline, key },
  keySpans,
  window,
  width,
}: {
  chords: readonly ChordFinding[];
  sections: readonly Section[];
  editing: ChordEditing;
  keySpans: readonly KeySpan[];
  window: TimeWindow;
  width: number;
}) {
  return sections.map((section) => {
    const last = section.startBar + section.bars - 1;
    const place = pixelsOf(barStart(timeline, section.startBar), barStart(timeline, last + 1), window, width);
    if (!place) return null;
    const names = chords
      .filter(({ bar, chord }) => chord && bar >= section.startBar && bar <= last)
      .map(({ chord, bar }) => chordSymbol(chord!, keyAt(keySpans, bar) ?? key))
      .filter((name, at, all) => name !== all[at - 1]);
    return (
      <span
        key={section.startBar}
        className="absolute inset-y-0.5 overflow-hidden border-l border-rule px-1 text-sm"
        style={{ left: place.left, width: Math.max(2, place.width - 1) }}
        title={`${section.label}, bars ${section.startBar} to ${last}: ${names.join(' ')}. Closer (+) shows them bar by bar`}
      >
        <span className="line-clamp-2 leading-4.5 text-muted">{names.join(' ')}</span>
      </span>
    );
  });
}

/** Ink by certainty: bold and full where it is sure, thin and gray where it is a question. */
function inkOf({ certainty }: ChordFinding): string {
  if (isDoubtful(certainty)) return 'font-normal text-muted italic';
  return certainty >= 0.9 ? 'font-bold' : 'font-medium';
}

function ChordBox({
  chord: finding,
  next,
  at,
  place,
  editing,
  newKey,
  isCurrent,
  isOpen,
  onOpen,
}: {
  chord: ChordFinding;
  next: ChordFinding | undefined;
  at: number;
  place: { left: number; width: number };
  editing: ChordEditing;
  /** The key that begins with it, where one does. */
  newKey: Key | undefined;
  isCurrent: boolean;
  isOpen: boolean;
  onOpen: (open: boolean) => void;
}) {
  const { chord, bar, beat, certainty, byHand } = finding;
  const { key } = editing;
  const symbol = chord ? chordSymbol(chord, key) : 'N.C.';
  const numeral = chord && key ? chordNumeral(chord, key) : '';
  const said = byHand ? 'by hand' : certaintyWords(certainty);
  const asks = !byHand && chord !== null && isDoubtful(certainty);
  return (
    <Popover.Root open={isOpen} onOpenChange={onOpen}>
      <Popover.Trigger asChild>
        <button
          type="button"
          data-chord={at}
          tabIndex={isCurrent ? 0 : -1}
          title={`${newKey ? `${keyName(newKey)} from here. ` : ''}${symbol} ${numeral}, ${said}. Click to correct.`}
          className={`absolute inset-y-0.5 overflow-hidden border-l px-1 text-left leading-tight hover:bg-card ${
            newKey ? 'border-l-2 border-indigo' : byHand ? 'border-l-2 border-madder bg-card' : 'border-rule'
          } ${isOpen ? 'bg-select' : ''}`}
          style={{ left: place.left, width: Math.max(2, place.width - 1) }}
        >
          <span
            className={place.width > 16 ? `block truncate font-display text-sm ${inkOf(finding)}` : 'sr-only'}
          >
            {symbol}
            {asks && '?'}{' '}
          </span>
          <span className={place.width > 16 ? 'block truncate text-[11px] leading-3 text-muted' : 'sr-only'}>
            {newKey && <b className="text-indigo">{keyLabel(newKey)}: </b>}
            {numeral}
          </span>
          <span className="sr-only">
            , bar {bar}, beat {beat}, {said}
          </span>
        </button>
      </Popover.Trigger>
      <PopoverCard className="w-72" label={`The chord of bar ${bar}, beat ${beat}`}>
        <ChordForm
          finding={finding}
          next={next}
          symbol={chord ? symbol : ''}
          editing={editing}
          onClose={() => onOpen(false)}
        />
      </PopoverCard>
    </Popover.Root>
  );
}

function ChordForm({
  finding,
  next,
  symbol,
  editing: { timeline, onMove },
  onClose,
}: {
  finding: ChordFinding;
  next: ChordFinding | undefined;
  symbol: string;
  editing: ChordEditing;
  onClose: () => void;
}) {
  const { startTick, endTick, bar, beat, certainty, byHand } = finding;
  const [text, setText] = useState(symbol);
  const id = useId();
  const isKnown = text.trim() === '' || parseSymbol(text) !== undefined;
  const chordMove = (fromTick: number, toTick: number, written: string | null): SingleMove => ({
    move: 'chord',
    fromTick,
    toTick,
    symbol: written,
  });
  const does = (move: Parameters<ChordEditing['onMove']>[0]) => {
    onMove(move);
    onClose();
  };
  const middle = middleOf(timeline, startTick, endTick);
  return (
    <form
      className="grid gap-2.5"
      onSubmit={(event) => {
        event.preventDefault();
        if (isKnown) does(chordMove(startTick, endTick, text.trim()));
      }}
    >
      <label className="grid gap-1" htmlFor={id}>
        <span className="text-sm text-muted">
          Bar {bar}, beat {beat}, {byHand ? 'by hand' : `found with ${certainty.toFixed(2)}`}
        </span>
        <span className="flex gap-1.5">
          <input
            id={id}
            autoFocus
            className="field min-w-0 flex-1 font-display font-semibold"
            aria-label="Chord"
            aria-invalid={!isKnown}
            value={text}
            placeholder="N.C."
            onFocus={(event) => event.target.select()}
            onChange={(event) => setText(event.target.value)}
          />
          <Button kind="primary" type="submit" disabled={!isKnown}>
            Correct
          </Button>
        </span>
      </label>
      <p className={`text-xs ${isKnown ? 'text-muted' : 'text-madder'}`} role={isKnown ? undefined : 'alert'}>
        {isKnown
          ? 'Such as Gm7, F/A, Bsus4; empty for no chord.'
          : `"${text}" is not a chord symbol that is understood.`}
      </p>
      <div className="flex flex-wrap gap-1.5">
        {middle !== null && (
          <Button
            small
            onClick={() =>
              does({
                move: 'together',
                title: `split ${symbol || 'N.C.'}`,
                moves: [chordMove(startTick, middle, symbol), chordMove(middle, endTick, symbol)],
              })
            }
          >
            Split in two
          </Button>
        )}
        {next && (
          <Button small onClick={() => does(chordMove(startTick, next.endTick, symbol))}>
            Join with the next
          </Button>
        )}
        <Button small onClick={() => does(chordMove(startTick, endTick, ''))}>
          No chord
        </Button>
        {byHand && (
          <Button small onClick={() => does(chordMove(startTick, endTick, null))}>
            As found
          </Button>
        )}
      </div>
    </form>
  );
}

/** The beat nearest to the middle; null where there is none within. */
function middleOf(timeline: Timeline, startTick: number, endTick: number): number | null {
  const beat = beatTicks(timeline.ppq, meterAt(timeline, startTick));
  const beats = Math.round((endTick - startTick) / beat);
  return beats < 2 ? null : Math.round(startTick + Math.ceil(beats / 2) * beat);
}
