import type { Output } from '../../src/cli/output.ts';

/** Runs a command in this process, for its JSON: the exit code, the answer (undefined where there is none), what it said beside it. */
export function runCommand(command: (out: Output) => number) {
  let answer = '';
  const problems: string[] = [];
  const code = command({
    json: true,
    answer: (text) => (answer = text),
    problem: (text) => problems.push(text),
  });
  // eslint-disable-next-line @typescript-eslint/no-explicit-any -- tests look into answers of every shape
  return { code, problems, answer: (answer ? JSON.parse(answer) : undefined) as any };
}
