/** The part of verovio (npm) that tests read MusicXML back with; it comes without types of its own. */
declare module 'verovio/wasm' {
  export default function createVerovioModule(): Promise<unknown>;
}

declare module 'verovio/esm' {
  export class VerovioToolkit {
    constructor(module: unknown);
    /** 1 where it could be read. */
    loadData(data: string): number;
    /** Base 64. */
    renderToMIDI(): string;
  }
}
