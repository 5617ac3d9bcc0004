import { until } from './until.ts';

/** One event that was heard. */
export interface HeardEvent {
  name: string;
  // eslint-disable-next-line @typescript-eslint/no-explicit-any -- tests look into events of every shape
  data: any;
}

/** Listens to a server's news until the test ends it; what is heard is gathered. */
export async function listenTo(address: string, headers: Record<string, string> = {}) {
  const ending = new AbortController();
  const answer = await fetch(`${address}/api/events`, { headers, signal: ending.signal });
  const heard: HeardEvent[] = [];
  const reading = (async () => {
    let text = '';
    const decoder = new TextDecoder();
    for await (const chunk of answer.body as unknown as AsyncIterable<Uint8Array>) {
      text += decoder.decode(chunk, { stream: true });
      for (let end = text.indexOf('\n\n'); end >= 0; end = text.indexOf('\n\n')) {
        const [, name, data] = /^event: (\w+)\ndata: (.*)$/m.exec(text.slice(0, end)) ?? [];
        if (name) heard.push({ name, data: JSON.parse(data!) });
        text = text.slice(end + 2);
      }
    }
  })().catch(() => {});
  return {
    status: answer.status,
    heard,
    /** The first event that fits, as soon as it is there. */
    hears: (what: string, fits: (event: HeardEvent) => boolean) =>
      until(what, async () => heard.find(fits) ?? false, { within: 10_000, every: 10 }),
    async end() {
      ending.abort();
      await reading;
    },
  };
}
