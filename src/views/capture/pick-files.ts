/** What files that hold MIDI are called. */
export const MIDI_FILES = '.mid,.midi,.smf,.kar,.rmi,.zip,audio/midi,application/zip';

/** Files, or all those of a folder, as they are chosen. React knows no property for folders, so the input is made here. */
export function pickFiles(onFiles: (files: readonly File[]) => void, { folder = false } = {}): void {
  const input = document.createElement('input');
  input.type = 'file';
  input.webkitdirectory = folder;
  input.multiple = true;
  if (!folder) input.accept = MIDI_FILES;
  input.onchange = () => onFiles([...(input.files ?? [])]);
  input.click();
}
