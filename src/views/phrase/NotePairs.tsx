import { useCallback, useEffect, useMemo, useRef } from 'react';
import { KIT_PIECES, kitPiece } from '../../core/midi/gm.ts';
import { pitchName } from '../../core/music/pitch.ts';
import { isPitched, type Clip } from '../../core/phrase/clip.ts';
import { usePlayer } from '../../sound/player.ts';
import { preparedContext, themeColor, useSize, useThemeVersion } from '../../ui/canvas.ts';
import {
  drawNotes,
  drawnNotes,
  drawWarp,
  heights,
  roleColor,
  wheeled,
  type BarLine,
  type TimeWindow,
} from '../../ui/strand.ts';
import { Playhead } from '../app/Playhead.tsx';

const AXIS = 40;
const RULER = 24;

/** The product's signature picture: each note hollow as it was captured, solid as the recipe leaves it. */
export function NotePairs({
  hollow,
  solid,
  bars,
  window,
  onWindow,
  flats,
  isPlaying,
}: {
  hollow: Clip;
  solid: Clip;
  bars: readonly BarLine[];
  window: TimeWindow;
  onWindow: (window: TimeWindow) => void;
  flats: boolean;
  isPlaying: boolean;
}) {
  const [box, size] = useSize<HTMLDivElement>();
  const canvas = useRef<HTMLCanvasElement>(null);
  const theme = useThemeVersion();
  const drawn = useMemo(() => {
    const pair = { hollow: drawnNotes(hollow.notes), solid: drawnNotes(solid.notes) };
    const all = drawnNotes([...hollow.notes, ...solid.notes]);
    return {
      ...pair,
      height: heights(all, solid.role),
      labels: axisLabels([...hollow.notes, ...solid.notes], solid, flats),
    };
  }, [hollow, solid, flats]);
  useEffect(() => {
    const area = { width: size.width - AXIS, height: size.height - RULER };
    if (area.width <= 0 || area.height <= 0) return;
    const context = preparedContext(canvas.current!, size.width, size.height);
    context.font = '12px "Plain Figures", "Atkinson Hyperlegible", sans-serif';
    context.textBaseline = 'middle';
    const thickness = Math.min(13, Math.max(5, area.height / 26));
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
    const scale = area.width / (window.toTick - window.fromTick);
    bars.forEach(({ tick }, i) => {
      const x = (tick - window.fromTick) * scale;
      if (x > -1) context.fillText(String(i + 1), x + 5, RULER / 2);
    });
    context.translate(0, RULER);
    // The outline lies a little outside, so that a note left alone is still seen to be both.
    drawNotes(context, drawn.solid, drawn.height, window, area, {
      color: roleColor(solid.role),
      thickness: thickness - 3,
    });
    const ring = { ...area, height: area.height + 3 };
    context.translate(0, -1.5);
    drawNotes(context, drawn.hollow, drawn.height, window, ring, {
      hollow: true,
      color: themeColor('ink'),
      thickness,
    });
    context.restore();
  }, [drawn, solid, bars, window, size, theme]);
  // What sounds may count in other ticks than what is drawn: as captured, it does.
  const heard = usePlayer((player) => player.listening?.lanes[0]?.clip.length ?? solid.length);
  const tickOf = useCallback((tick: number) => (tick / heard) * solid.length, [heard, solid.length]);
  return (
    <div
      ref={box}
      className="relative min-h-0 flex-1 overflow-hidden border border-rule bg-card"
      onWheel={(event) => {
        const left = event.currentTarget.getBoundingClientRect().left + AXIS;
        const next = wheeled(window, event, left, size.width - AXIS, solid.length);
        if (next) onWindow(next);
      }}
    >
      <canvas
        ref={canvas}
        className="absolute inset-0"
        style={{ width: size.width, height: size.height }}
        role="img"
        aria-label={`${solid.notes.length} notes over ${bars.length} bars, hollow as captured, solid as the recipe leaves them`}
      />
      <Playhead isPlaying={isPlaying} tickOf={tickOf} window={window} left={AXIS} width={size.width - AXIS} />
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
