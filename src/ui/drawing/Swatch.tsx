import { useEffect, useMemo, useRef } from 'react';
import { unpackSwatch, type SwatchNote } from '../../core/phrase/swatch.ts';
import type { Role } from '../../core/split/roles.ts';
import { preparedContext, themeColor } from './canvas.ts';
import { useThemeVersion } from './use-canvas.ts';
import { roleColor } from './strand.ts';

const STITCH = 2.5;

/** The small drawing by which a phrase is known: its real notes over its bar lines. */
export function Swatch({
  notes,
  under,
  role,
  bars,
  width,
  height,
}: {
  /** Base64 of `packSwatch`. */
  notes: string;
  /** What it was before, hollow, in the same frame. */
  under?: string | undefined;
  role: Role;
  bars: number;
  width: number;
  height: number;
}) {
  const ref = useRef<HTMLCanvasElement>(null);
  const theme = useThemeVersion();
  const stitches = useMemo(() => stitchesOf(notes), [notes]);
  const hollow = useMemo(() => (under === undefined ? [] : stitchesOf(under)), [under]);
  useEffect(() => {
    const context = preparedContext(ref.current!, width, height);
    context.fillStyle = themeColor('thread-strong');
    for (let bar = 1; bar < bars && bars <= 16; bar++)
      context.fillRect(Math.round((bar / bars) * width), 0, 1, height);
    context.fillStyle = roleColor(role);
    trace(context, stitches, { width, height });
    context.fill();
    if (hollow.length === 0) return;
    context.strokeStyle = themeColor('muted');
    trace(context, hollow, { width, height }, 1);
    context.stroke();
  }, [stitches, hollow, role, bars, width, height, theme]);
  return <canvas ref={ref} style={{ width, height }} aria-hidden="true" />;
}

/** Several parts over one bar, each in a band of its own, from the top down. */
export function LayeredSwatch({
  parts,
  width,
  height,
}: {
  /** Base64 of `packSwatch`, each. */
  parts: readonly { notes: string; role: Role }[];
  width: number;
  height: number;
}) {
  const ref = useRef<HTMLCanvasElement>(null);
  const theme = useThemeVersion();
  const bands = useMemo(
    () => parts.map(({ notes, role }) => ({ role, stitches: stitchesOf(notes) })),
    [parts],
  );
  useEffect(() => {
    const context = preparedContext(ref.current!, width, height);
    const band = height / Math.max(1, bands.length);
    bands.forEach(({ role, stitches }, at) => {
      context.save();
      context.translate(0, at * band);
      context.fillStyle = roleColor(role);
      trace(context, stitches, { width, height: band });
      context.fill();
      context.restore();
    });
  }, [bands, width, height, theme]);
  return <canvas ref={ref} style={{ width, height }} aria-hidden="true" />;
}

const stitchesOf = (packed: string) =>
  unpackSwatch(Uint8Array.from(atob(packed), (char) => char.charCodeAt(0)));

/** The outlines of notes, each a stitch high; larger by so many pixels on all sides. */
function trace(
  context: CanvasRenderingContext2D,
  stitches: readonly SwatchNote[],
  { width, height }: { width: number; height: number },
  wider = 0,
): void {
  context.beginPath();
  for (const { x, width: length, y } of stitches) {
    const left = x * width;
    const top = 1 + (height - STITCH - 2) * (1 - y);
    const long = Math.max(STITCH, Math.min(length * width - 1, width - left));
    const tall = STITCH + 2 * wider;
    context.roundRect(left - wider, top - wider, long + 2 * wider, tall, tall / 2);
  }
}
