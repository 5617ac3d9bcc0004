/** Families of browsers by what they say they are, the more particular first: several say the names of others too. */
const BROWSERS: readonly [RegExp, string][] = [
  [/Firefox\//, 'Firefox'],
  [/Edg\//, 'Edge'],
  [/Chrome\//, 'Chromium'],
  [/Safari\//, 'Safari'],
];

const SYSTEMS: readonly [RegExp, string][] = [
  [/Android/, 'Android'],
  [/iPhone|iPad/, 'iOS'],
  [/Windows/, 'Windows'],
  [/Mac OS X/, 'macOS'],
  [/Linux/, 'Linux'],
];

/** "Firefox on Linux", of what a browser says it is; "a browser" where it is none that is known. */
export function browserWords(device: string): string {
  const first = (list: typeof BROWSERS) => list.find(([sign]) => sign.test(device))?.[1];
  const browser = first(BROWSERS) ?? 'a browser';
  const system = first(SYSTEMS);
  return system ? `${browser} on ${system}` : browser;
}
