/** File names from a pattern with tokens in braces, such as "{project}_{role}_{bars}bar_{tempo}_{key}_{number}". */

export const NAME_TOKENS = [
  'name',
  'project',
  'role',
  'bars',
  'tempo',
  'key',
  'meter',
  'source',
  'number',
] as const;

export type NameToken = (typeof NAME_TOKENS)[number];

export const DEFAULT_PATTERN = '{number}_{name}_{role}_{tempo}_{key}';

/** The longest name made, in characters, so that it fits every file system with its ending. */
const LONGEST = 120;

/** The pattern's tokens that do not exist. */
export function unknownTokens(pattern: string): string[] {
  return [...pattern.matchAll(/\{([^{}]*)\}/g)]
    .map((match) => match[1]!)
    .filter((token) => !NAME_TOKENS.includes(token as NameToken));
}

/** Puts values into a pattern, and makes the result a name that every file system takes. */
export function fileName(pattern: string, values: Record<NameToken, string>): string {
  const filled = pattern.replace(/\{([^{}]*)\}/g, (whole, token: string) =>
    NAME_TOKENS.includes(token as NameToken) ? values[token as NameToken] : whole,
  );
  return safeFileName(filled);
}

/**
 * Letters, digits, dots, dashes and underscores; everything else becomes a dash, "#" becomes "sharp". Never
 * empty, never hidden, never a path, never a name that Windows keeps for devices.
 */
export function safeFileName(text: string): string {
  const plain = text
    .normalize('NFKD')
    .replace(/\p{M}/gu, '')
    .replace(/#/g, 'sharp')
    .replace(/[^\p{L}\p{N}._-]+/gu, '-')
    .replace(/-*_-*/g, '_')
    .replace(/^[-_.]+|[-_.]+$/g, '')
    .slice(0, LONGEST);
  if (/^(con|prn|aux|nul|com\d|lpt\d)$/i.test(plain.split('.')[0]!)) return `${plain}-file`;
  return plain || 'unnamed';
}

/** The names, with " 2", " 3" behind those that came before. Upper and lower case count as the same. */
export function uniqueNames(names: readonly string[]): string[] {
  const taken = new Set<string>();
  return names.map((name) => {
    let unique = name;
    for (let n = 2; taken.has(unique.toLowerCase()); n++) unique = `${name}-${n}`;
    taken.add(unique.toLowerCase());
    return unique;
  });
}
