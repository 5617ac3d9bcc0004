/** Steps of a bar in sixteenths, where nothing lies further back: four quarters, or six eighths. */
const STEPS = [12, 16];

/** The notes of a run (steps times 128 and pitches, by bar) as a swatch is packed (`packSwatch`), in base64. */
export function packedRun(bars: readonly (readonly number[])[]): string {
  const notes = bars.flatMap((own, bar) => own.map((note) => ({ bar, step: note >> 7, pitch: note & 127 })));
  if (notes.length === 0) return '';
  const last = notes.reduce((most, { step }) => Math.max(most, step), 0);
  const steps = STEPS.find((count) => last < count) ?? last + 1;
  const pitches = notes.map(({ pitch }) => pitch);
  const low = pitches.reduce((a, b) => Math.min(a, b));
  const range = Math.max(7, pitches.reduce((a, b) => Math.max(a, b)) - low);
  const byte = (share: number) => Math.min(255, Math.max(0, Math.round(share * 255)));
  const length = 1 / steps / bars.length;
  const bytes = notes.flatMap(({ bar, step, pitch }) => [
    byte((bar + step / steps) / bars.length),
    Math.max(1, byte(length)),
    byte((pitch - low) / range),
  ]);
  return btoa(String.fromCharCode(...bytes));
}
