/** Hands bytes to the browser as a download. */
export function saveFile(bytes: Uint8Array, name: string, type: string): void {
  const url = URL.createObjectURL(new Blob([bytes as Uint8Array<ArrayBuffer>], { type }));
  saveAddress(url, name);
  URL.revokeObjectURL(url);
}

/** Downloads what is at an address, under the name that the server gives it where none is given. */
export function saveAddress(url: string, name = ''): void {
  const link = document.createElement('a');
  link.href = url;
  link.download = name;
  link.click();
}
