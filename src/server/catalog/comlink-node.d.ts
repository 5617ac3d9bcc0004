/** Comlink ships types for its adapter to Node's threads, and does not say where. */
declare module 'comlink/dist/esm/node-adapter.mjs' {
  import type { Endpoint } from 'comlink';
  import type { MessagePort, Worker } from 'node:worker_threads';
  export default function nodeEndpoint(port: MessagePort | Worker): Endpoint;
}
