/** Canvases in the page and in threads: nothing here needs React. */

/** A canvas's context, sized to the screen's own pixels and cleared. Drawing is in CSS pixels. A thread of its own is told the screen's ratio. */
export function preparedContext(
  canvas: HTMLCanvasElement,
  width: number,
  height: number,
): CanvasRenderingContext2D;
export function preparedContext(
  canvas: OffscreenCanvas,
  width: number,
  height: number,
  ratio: number,
): OffscreenCanvasRenderingContext2D;
export function preparedContext(
  canvas: HTMLCanvasElement | OffscreenCanvas,
  width: number,
  height: number,
  ratio = globalThis.devicePixelRatio || 1,
): CanvasRenderingContext2D | OffscreenCanvasRenderingContext2D {
  const context = canvas.getContext('2d') as CanvasRenderingContext2D | OffscreenCanvasRenderingContext2D;
  const pixels = [Math.round(width * ratio), Math.round(height * ratio)] as const;
  if (canvas.width !== pixels[0] || canvas.height !== pixels[1]) [canvas.width, canvas.height] = pixels;
  context.setTransform(ratio, 0, 0, ratio, 0, 0);
  context.clearRect(0, 0, width, height);
  return context;
}

/** A color of the current theme by its name, such as "ink" or "indigo". */
export function themeColor(name: string): string {
  return getComputedStyle(document.documentElement).getPropertyValue(`--${name}`).trim();
}
