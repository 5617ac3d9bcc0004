/** What is needed of PGlite: one connection, on which one message runs at a time. */
export interface OneConnection {
  isInTransaction(): boolean;
  runExclusive<T>(work: () => Promise<T>): Promise<T>;
  execProtocolRawStream(
    message: Uint8Array,
    options: { onRawData: (data: Uint8Array) => void },
  ): Promise<unknown>;
}

interface Waiting {
  client: number;
  /** Of the last of its messages. */
  type: number;
  message: Uint8Array;
  onData: (data: Uint8Array) => void;
  resolve: (bytes: number) => void;
  reject: (error: Error) => void;
}

const typesOf = (letters: string) => new Set([...letters].map((letter) => letter.charCodeAt(0)));

/**
 * Types of messages that are answered with what ends them: parse, bind, describe, execute, close; a sync or a flush ends them.
 * (PostgreSQL documentation, "Message Formats".)
 */
const WAITS_FOR_MORE = typesOf('PBDEC');

/** Types of messages after which the same client has to go on: flush, and the pieces of a copy. */
const GOES_ON = typesOf('Hdcf');

const SYNC = Uint8Array.of('S'.charCodeAt(0), 0, 0, 0, 4);

/**
 * Many clients on one connection. A client that has begun a series of messages or a transaction keeps the connection
 * until it has ended it: the unnamed statement and the transaction are the connection's, and another client's message
 * in between would change them under its hands. (The queue that comes with pglite-socket lets clients alternate
 * between a parse and its bind.) What belongs to one answer is run and answered as one: five times the way for each query was most
 * of what a small one took.
 */
export class QueryQueue {
  private waiting: Waiting[] = [];
  /** By client, the messages that wait for what ends them. */
  private readonly begun = new Map<number, Uint8Array[]>();
  private working = false;
  /** Who has to go on. */
  private holder: number | null = null;
  private inSeries = false;

  constructor(private readonly db: OneConnection) {}

  enqueue(client: number, message: Uint8Array, onData: (data: Uint8Array) => void): Promise<number> {
    const begun = this.begun.get(client) ?? [];
    if (WAITS_FOR_MORE.has(message[0]!)) {
      this.begun.set(client, [...begun, message]);
      return Promise.resolve(0);
    }
    this.begun.delete(client);
    const whole = begun.length > 0 ? Buffer.concat([...begun, message]) : message;
    return new Promise((resolve, reject) => {
      this.waiting.push({ client, type: message[0]!, message: whole, onData, resolve, reject });
      void this.work();
    });
  }

  getQueueLength(): number {
    return this.waiting.length;
  }

  /** A client is gone: what it still wanted is refused. */
  clearQueueForHandler(client: number): void {
    this.begun.delete(client);
    const gone = this.waiting.filter((entry) => entry.client === client);
    this.waiting = this.waiting.filter((entry) => entry.client !== client);
    for (const { reject } of gone) reject(new Error('The client is gone.'));
  }

  /** A client is gone: what it had begun is taken back, and the others go on. */
  async clearTransactionIfNeeded(client: number): Promise<void> {
    if (this.holder !== client) return;
    await this.run(SYNC, () => {});
    if (this.db.isInTransaction()) await this.run(simpleQuery('ROLLBACK'), () => {});
    this.holder = null;
    this.inSeries = false;
    await this.work();
  }

  private async work(): Promise<void> {
    if (this.working) return;
    this.working = true;
    for (let next = this.next(); next; next = this.next()) {
      this.holder = next.client;
      this.inSeries = GOES_ON.has(next.type);
      try {
        const pieces: Uint8Array[] = [];
        await this.run(next.message, (data) => pieces.push(data.slice()));
        const answer = Buffer.concat(pieces);
        if (answer.length > 0) next.onData(answer);
        next.resolve(answer.length);
      } catch (error) {
        next.reject(error as Error);
      }
      if (!this.inSeries && !this.db.isInTransaction()) this.holder = null;
    }
    this.working = false;
  }

  /** The next message that may run; undefined while the holder's has not come yet. */
  private next(): Waiting | undefined {
    if (this.holder === null) return this.waiting.shift();
    const at = this.waiting.findIndex(({ client }) => client === this.holder);
    return at < 0 ? undefined : this.waiting.splice(at, 1)[0];
  }

  private run(message: Uint8Array, onRawData: (data: Uint8Array) => void): Promise<unknown> {
    return this.db.runExclusive(() => this.db.execProtocolRawStream(message, { onRawData }));
  }
}

/** A statement as a message of its own (PostgreSQL documentation, "Simple Query"). */
export function simpleQuery(text: string): Uint8Array {
  const body = new TextEncoder().encode(`${text}\0`);
  const message = new Uint8Array(5 + body.length);
  message[0] = 'Q'.charCodeAt(0);
  new DataView(message.buffer).setInt32(1, 4 + body.length);
  message.set(body, 5);
  return message;
}
