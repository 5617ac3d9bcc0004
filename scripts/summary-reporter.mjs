// What failed, in full, and the runner's own counts: the dots alone say too little.
export default async function* summary(source) {
  for await (const { type, data } of source) {
    if (type === 'test:fail' && data.details.type !== 'suite') {
      const { cause } = data.details.error;
      yield `\nnot ok ${data.name} (${data.file ?? ''})\n${cause?.stack ?? data.details.error.message}\n`;
    }
    if (type === 'test:diagnostic' && data.nesting === 0) yield `# ${data.message}\n`;
  }
}
