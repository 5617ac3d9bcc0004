/** How many of something: "1 take", "1,200 takes", "2 pitches". */
export function plural(count: number, what: string, several = `${what}s`): string {
  return `${count.toLocaleString('en')} ${count === 1 ? what : several}`;
}
