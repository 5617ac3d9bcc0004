import { useEffect, useMemo, useRef } from 'react';
import { unpackSwatch } from '../core/phrase/swatch.ts';
import type { Role } from '../core/split/roles.ts';
import { preparedContext, themeColor, useThemeVersion } from './canvas.ts';
import { roleColor } from './strand.ts';

const STITCH = 2.5;

/** The small drawing by which a phrase is known: its real notes over its bar lines. */
export function Swatch({
  notes,
  role,
  bars,
  width,
  height,
}: {
  /** Base64 of `packSwatch`. */
  notes: string;
  role: Role;
  bars: number;
  width: number;
  height: number;
}) {
  const ref = useRef<HTMLCanvasElement>(null);
  const theme = useThemeVersion();
  const stitches = useMemo(
    () => unpackSwatch(Uint8Array.from(atob(notes), (char) => char.charCodeAt(0))),
    [notes],
  );
  useEffect(() => {
    const context = preparedContext(ref.current!, width, height);
    context.fillStyle = themeColor('thread-strong');
    for (let bar = 1; bar < bars && bars <= 16; bar++)
      context.fillRect(Math.round((bar / bars) * width), 0, 1, height);
    context.fillStyle = roleColor(role);
    context.beginPath();
    for (const { x, width: length, y } of stitches) {
      const left = x * width;
      const top = 1 + (height - STITCH - 2) * (1 - y);
      context.roundRect(
        left,
        top,
        Math.max(STITCH, Math.min(length * width - 1, width - left)),
        STITCH,
        STITCH / 2,
      );
    }
    context.fill();
  }, [stitches, role, bars, width, height, theme]);
  return <canvas ref={ref} style={{ width, height }} aria-hidden="true" />;
}
