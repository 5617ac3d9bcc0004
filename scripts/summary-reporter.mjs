// What failed, in full, which files took longest, and the runner's own counts: the dots alone say too little.
import { basename } from 'node:path';

/** Files that are named, at the most. */
const NAMED = 5;

export default async function* summary(source) {
  const seconds = new Map();
  for await (const { type, data } of source) {
    if (type === 'test:fail' && data.details.type !== 'suite') {
      const { cause } = data.details.error;
      yield `\nnot ok ${data.name} (${data.file ?? ''})\n${cause?.stack ?? data.details.error.message}\n`;
    }
    if ((type === 'test:pass' || type === 'test:fail') && data.nesting === 0 && data.file) {
      const file = basename(data.file);
      seconds.set(file, (seconds.get(file) ?? 0) + data.details.duration_ms / 1000);
    }
    if (type === 'test:diagnostic' && data.nesting === 0) {
      if (data.message.startsWith('tests ')) yield `\n# longest: ${longest(seconds)}\n`;
      yield `# ${data.message}\n`;
    }
  }
}

function longest(seconds) {
  return [...seconds]
    .sort((a, b) => b[1] - a[1])
    .slice(0, NAMED)
    .map(([file, took]) => `${file} ${took.toFixed(0)} s`)
    .join(', ');
}
