/** The media type of a file that leaves, by its name. */
export function typeOfFile(file: string): string {
  return file.endsWith('.zip') ? 'application/zip' : 'audio/midi';
}
