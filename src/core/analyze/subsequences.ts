/**
 * All maximal scoring subsequences as [from, to), in linear time (Ruzzo & Tompa 1999, "A linear time algorithm for finding
 * all maximal scoring subsequences").
 */
export function maximalSubsequences(scores: readonly number[]): [from: number, to: number][] {
  interface Candidate {
    from: number;
    to: number;
    /** Sums before its first and after its last score. */
    left: number;
    right: number;
  }
  const kept: Candidate[] = [];
  let sum = 0;
  scores.forEach((score, at) => {
    const left = sum;
    sum += score;
    if (score <= 0) return;
    let now: Candidate = { from: at, to: at + 1, left, right: sum };
    for (;;) {
      let j = kept.length - 1;
      while (j >= 0 && kept[j]!.left >= now.left) j--;
      if (j < 0 || kept[j]!.right >= now.right) break;
      now = { from: kept[j]!.from, to: now.to, left: kept[j]!.left, right: now.right };
      kept.length = j;
    }
    kept.push(now);
  });
  return kept.map(({ from, to }) => [from, to]);
}
