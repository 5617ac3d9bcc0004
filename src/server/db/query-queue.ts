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
  message: Uint8Array;
  onData: (data: Uint8Array) => void;
  resolve: (bytes: number) => void;
  reject: (error: Error) => void;
}

/**
 * Types of messages after which the same client has to go on: parse, bind, describe, execute, close, flush and the
 * pieces of a copy. A sync ends them. (PostgreSQL documentation, "Message Formats".)
 */
const GOES_ON = new Set([...'PBDECHdcf'].map((letter) => letter.charCodeAt(0)));

const SYNC = Uint8Array.of('S'.charCodeAt(0), 0, 0, 0, 4);

/**
 * Many clients on one connection. A client that has begun a series of messages or a transaction keeps the connection
 * until it has ended it: the unnamed statement and the transaction are the connection's, and another client's message
 * in between would change them under its hands. (The queue that comes with pglite-socket lets clients alternate
 * between a parse and its bind.)
 */
export class QueryQueue {
  private waiting: Waiting[] = [];
  private working = false;
  /** Who has to go on. */
  private holder: number | null = null;
  private inSeries = false;

  constructor(private readonly db: OneConnection) {}

  enqueue(client: number, message: Uint8Array, onData: (data: Uint8Array) => void): Promise<number> {
    return new Promise((resolve, reject) => {
      this.waiting.push({ client, message, onData, resolve, reject });
      void this.work();
    });
  }

  getQueueLength(): number {
    return this.waiting.length;
  }

  /** A client is gone: what it still wanted is refused. */
  clearQueueForHandler(client: number): void {
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
      this.inSeries = GOES_ON.has(next.message[0]!);
      try {
        let bytes = 0;
        await this.run(next.message, (data) => {
          bytes += data.length;
          next!.onData(data);
        });
        next.resolve(bytes);
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

function simpleQuery(text: string): Uint8Array {
  const body = new TextEncoder().encode(`${text}\0`);
  const message = new Uint8Array(5 + body.length);
  message[0] = 'Q'.charCodeAt(0);
  new DataView(message.buffer).setInt32(1, 4 + body.length);
  message.set(body, 5);
  return message;
}
