/** A file with the name by which the person knows it: its folders before it. */
export interface NamedFile {
  file: File;
  name: string;
}

const MAY_HOLD_MIDI = /\.(midi?|smf|kar|rmi|zip)$/i;

/** Files as an input or a drop gives them. Of whole folders, what cannot hold MIDI is left out and counted. */
export function namedFiles(files: readonly File[]): { named: NamedFile[]; leftOut: number } {
  const named = files.map((file) => {
    const path = (file as { path?: string }).path ?? file.webkitRelativePath;
    return { file, name: (path || file.name).replace(/^(\.?\/)+/, '') };
  });
  const kept = named.filter(({ name }) => !name.includes('/') || MAY_HOLD_MIDI.test(name));
  return { named: kept, leftOut: named.length - kept.length };
}
