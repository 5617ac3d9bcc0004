/** How many of something: "1 take", "1,200 takes", "2 pitches". */
export function plural(count: number, what: string, several = `${what}s`): string {
  return `${count.toLocaleString('en')} ${count === 1 ? what : several}`;
}

/** What is less certain than this is said as a question. Certainties are calibrated: of these, three in ten and more are wrong. */
const DOUBTFUL = 0.7;

export function isDoubtful(certainty: number): boolean {
  return certainty < DOUBTFUL;
}

/** How certain something is, in figures; a question where it is doubtful. */
export function certaintyWords(certainty: number): string {
  return `${certainty.toFixed(2)}${isDoubtful(certainty) ? '?' : ''}`;
}
