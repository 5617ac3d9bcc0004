/** A note of a line: what it was, what that is in the other key, and where it would go. */
export interface LineNote {
  pitch: number;
  home: number;
  image: number;
}

/** What a line's octaves cost, in semitones; chosen by ear on the demo's tunes and basses. */
const COST = { apart: 0.04, leap: 0.4, wide: 3, outside: 6 };

/** What it costs that a tune turns; a bass goes the nearer way, whichever that is (common practice). */
const TURNED = { tune: 8, bass: 2 } as const;

/** So near to home a note is at home. */
const NEAR = 6;

/** A leap over this that the source had not is wide. */
const WIDE = 7;

/**
 * The octave of each note of a line, so that it goes the way it went: chosen together by dynamic programming over the
 * octave below, its own and above. `least` and `most` are the pitches it is kept between.
 */
export function chooseOctaves(
  line: readonly LineNote[],
  { least, most, kind }: { least: number; most: number; kind: keyof typeof TURNED },
): number[] {
  if (line.length === 0) return [];
  const options = line.map(({ image }) => [0, -12, 12, -24, 24].map((by) => image + by));
  const own = (k: number, pitch: number) =>
    COST.apart * Math.max(Math.abs(pitch - line[k]!.home) - NEAR, 0) +
    (pitch < least || pitch > most ? COST.outside : 0) +
    (pitch < 0 || pitch > 127 ? 1e6 : 0);
  let costs = options[0]!.map((pitch) => own(0, pitch));
  const back: number[][] = [];
  for (let k = 1; k < line.length; k++) {
    const was = line[k]!.pitch - line[k - 1]!.pitch;
    const from: number[] = [];
    costs = options[k]!.map((pitch, to) => {
      let cheapest = Infinity;
      options[k - 1]!.forEach((before, j) => {
        const reached = costs[j]! + stepCost(was, pitch - before, TURNED[kind]);
        if (reached < cheapest) [cheapest, from[to]] = [reached, j];
      });
      return cheapest + own(k, pitch);
    });
    back.push(from);
  }
  const path = [costs.indexOf(Math.min(...costs))];
  for (let at = back.length - 1; at >= 0; at--) path.unshift(back[at]![path[0]!]!);
  return path.map((option, k) => options[k]![option]!);
}

function stepCost(was: number, is: number, turning: number): number {
  const turned = isTurned(was, is) ? turning : 0;
  const wide = Math.abs(is) > WIDE && Math.abs(was) <= WIDE ? COST.wide : 0;
  return turned + wide + COST.leap * Math.abs(Math.abs(is) - Math.abs(was));
}

/** Whether a line goes down where it went up, or up where it went down. */
export function isTurned(was: number, is: number): boolean {
  return was * is < 0;
}
