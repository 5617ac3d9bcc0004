import { useCallback, useEffect, useMemo, useRef } from 'react';
import { KIT_PIECES, kitPiece } from '../../../core/midi/gm.ts';
import { pitchName } from '../../../core/music/pitch.ts';
import { isPitched, type Clip } from '../../../core/phrase/clip.ts';
import { plural } from '../../../core/words.ts';
import { usePlayer } from '../../../sound/player.ts';
import { preparedContext, themeColor } from '../../../ui/drawing/canvas.ts';
import { useSize, useThemeVersion } from '../../../ui/drawing/use-canvas.ts';
import {
  drawNotes,
  drawThorn,
  drawnNotes,
  drawWarp,
  heights,
  roleColor,
  type BarLine,
} from '../../../ui/drawing/strand.ts';
import { type TimeWindow, timeScale } from '../../../ui/drawing/time-window.ts';
import { useTimeZoom } from '../../../ui/drawing/use-time-zoom.ts';
import { Playhead } from '../../shared/listening/Playhead.tsx';
import type { HandEditing } from './hand-editing.ts';
import { dragged, useNoteDrag } from './note-drag.ts';
import { boxOf, type NoteLayout } from './note-hits.ts';

const AXIS = 40;
const RULER = 24;

/** Room at the foot in which the hits of the sheaf's drums stand. */
const HITS = 8;

/**
 * The product's signature picture: each note hollow as it was captured, solid as the recipe leaves it. Behind them the
 * sheaf's other parts; notes are chosen and changed by hand on it.
 */
export function NotePairs({
  hollow,
  solid,
  behind,
  clashing,
  bars,
  window,
  onWindow,
  flats,
  step,
  editing,
  isPlaying,
}: {
  hollow: Clip;
  solid: Clip;
  /** Other parts, in the key and ticks of the solid notes. */
  behind: readonly Clip[];
  /** Origins of notes that clash with those behind. */
  clashing: ReadonlySet<number>;
  bars: readonly BarLine[];
  window: TimeWindow;
  onWindow: (window: TimeWindow) => void;
  flats: boolean;
  /** Ticks of the grid that notes are dragged by. */
  step: number;
  editing: HandEditing;
  isPlaying: boolean;
}) {
  const [box, size] = useSize<HTMLDivElement>();
  const canvas = useRef<HTMLCanvasElement>(null);
  const theme = useThemeVersion();
  const heard = useMemo(() => behind.filter((clip) => isPitched(clip) === isPitched(solid)), [behind, solid]);
  const hits = useMemo(
    () => (isPitched(solid) ? behind.filter((clip) => !isPitched(clip)) : []),
    [behind, solid],
  );
  const drawn = useMemo(() => {
    const all = [...hollow.notes, ...solid.notes, ...heard.flatMap(({ notes }) => notes)];
    return {
      hollow: drawnNotes(hollow.notes),
      solid: drawnNotes(solid.notes),
      behind: heard.map((clip) => ({ role: clip.role, notes: drawnNotes(clip.notes) })),
      height: heights(drawnNotes(all), solid.role),
      labels: axisLabels(all, solid, flats),
    };
  }, [hollow, solid, heard, flats]);
  const area = {
    width: Math.max(1, size.width - AXIS),
    height: Math.max(1, size.height - RULER - (hits.length > 0 ? HITS : 0)),
  };
  useTimeZoom(box, { window, endTick: solid.length, left: AXIS, width: area.width, onWindow });
  const thickness = Math.min(13, Math.max(5, area.height / 26));
  const layout: NoteLayout = { window, ...area, thickness, heightOf: drawn.height };
  const { drag, handlers } = useNoteDrag(solid, layout, editing, step, AXIS, RULER);
  const { chosen } = editing;
  useEffect(() => {
    if (size.width <= AXIS || size.height <= RULER) return;
    const context = preparedContext(canvas.current!, size.width, size.height);
    context.font = '12px "Plain Figures", "Atkinson Hyperlegible", sans-serif';
    context.textBaseline = 'middle';
    const room = area.height - thickness - 2;
    for (const { text, pitch, strong } of drawn.labels) {
      const y = RULER + 1 + room * (1 - drawn.height(pitch)) + thickness / 2;
      context.fillStyle = themeColor(strong ? 'thread-strong' : 'thread');
      context.fillRect(AXIS, Math.round(y), area.width, 1);
      context.fillStyle = themeColor('muted');
      context.textAlign = 'right';
      context.fillText(text, AXIS - 6, y, AXIS - 8);
    }
    context.save();
    context.translate(AXIS, 0);
    context.beginPath();
    context.rect(0, 0, area.width, size.height);
    context.clip();
    drawWarp(context, bars, window, area.width, size.height);
    context.fillStyle = themeColor('ink');
    context.textAlign = 'left';
    const across = timeScale(window, area.width);
    const pickupBars = solid.pickup > 0 ? 1 : 0;
    bars.forEach(({ tick }, i) => {
      const x = across(tick);
      const name = i < pickupBars ? 'pickup' : String(i + 1 - pickupBars);
      if (x > -1) context.fillText(name, x + 5, RULER / 2);
    });
    context.translate(0, RULER);
    for (const { role, notes } of drawn.behind) {
      const thin = { color: roleColor(role), thickness: Math.max(3, thickness - 6), ink: 0.4 };
      drawNotes(context, notes, drawn.height, window, area, thin);
    }
    for (const clip of hits) {
      context.fillStyle = roleColor(clip.role);
      for (const { tick } of clip.notes) context.fillRect(across(tick), area.height + 1, 2, HITS - 2);
    }
    // The outline lies a little outside, so that a note left alone is still seen to be both.
    const still = drag ? drawnNotes(solid.notes.filter(({ origin }) => !chosen.has(origin))) : drawn.solid;
    const style = { color: roleColor(solid.role), thickness: thickness - 3 };
    drawNotes(context, still, drawn.height, window, area, style);
    const ring = { ...area, height: area.height + 3 };
    context.translate(0, -1.5);
    drawNotes(context, drawn.hollow, drawn.height, window, ring, {
      hollow: true,
      color: themeColor('ink'),
      thickness,
    });
    context.translate(0, 1.5);
    for (const note of solid.notes) {
      const isChosen = chosen.has(note.origin);
      if (isChosen) {
        const { left, top, right, bottom } = boxOf(dragged(note, drag, solid), layout);
        context.fillStyle = themeColor('indigo');
        context.beginPath();
        context.roundRect(left, top, right - left, bottom - top, thickness / 2);
        context.fill();
        context.strokeStyle = themeColor('ink');
        context.lineWidth = 2;
        context.strokeRect(left - 3, top - 3, right - left + 6, bottom - top + 6);
      }
      if (clashing.has(note.origin)) {
        const { left, top } = boxOf(note, layout);
        drawThorn(context, left, top);
      }
    }
    if (drag?.kind === 'box') {
      const { left, top, right, bottom } = drag.box;
      context.strokeStyle = themeColor('indigo');
      context.lineWidth = 1;
      context.strokeRect(left, top, right - left, bottom - top);
    }
    context.restore();
    // eslint-disable-next-line react-hooks/exhaustive-deps -- layout and area follow from what is listed
  }, [drawn, hits, solid, bars, window, size, theme, chosen, clashing, drag]);
  // What sounds may count in other ticks than what is drawn: as captured, it does.
  const sounding = usePlayer((player) => player.listening?.lanes[0]?.clip.length ?? solid.length);
  const tickOf = useCallback((tick: number) => (tick / sounding) * solid.length, [sounding, solid.length]);
  return (
    <div
      ref={box}
      className="notes-area relative min-h-0 flex-1 touch-none overflow-hidden border border-rule bg-card"
      {...handlers}
    >
      <canvas
        ref={canvas}
        className="absolute inset-0"
        style={{ width: size.width, height: size.height }}
        role="img"
        aria-label={`${plural(solid.notes.length, 'note')} over ${plural(bars.length, 'bar')}, hollow as captured, solid as the recipe leaves them`}
      />
      <Playhead isPlaying={isPlaying} tickOf={tickOf} window={window} left={AXIS} width={area.width} />
    </div>
  );
}

/** What the heights mean: every C and F of the range, or the pieces of the kit. */
function axisLabels(notes: readonly { pitch: number }[], clip: Clip, flats: boolean) {
  if (!isPitched(clip)) {
    return KIT_PIECES.flatMap((piece) => {
      const note = notes.find(({ pitch }) => kitPiece(pitch) === piece);
      return note ? [{ text: SHORT_PIECES[piece] ?? piece, pitch: note.pitch, strong: false }] : [];
    });
  }
  const pitches = notes.map(({ pitch }) => pitch);
  const low = Math.min(...pitches);
  const high = Math.max(...pitches);
  const labels = [];
  for (let pitch = low - 2; pitch <= high + 2; pitch++) {
    if (pitch % 12 === 0 || pitch % 12 === 7) {
      labels.push({ text: pitchName(pitch, { flats }), pitch, strong: pitch % 12 === 0 });
    }
  }
  return labels;
}

const SHORT_PIECES: Partial<Record<string, string>> = {
  'side stick and clap': 'stick',
  'closed hat': 'hat',
  'pedal hat': 'pedal',
  'open hat': 'open',
  percussion: 'perc.',
};
