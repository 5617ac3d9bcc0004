/** What may be done with a phrase, the freest first; beside these anybody's own words stand, such as a contract's. */
export const RIGHTS = [
  'public domain',
  'own work',
  'commissioned',
  'licensed',
  'unknown',
  "from somebody's song",
  'not to leave',
] as const;

export type Rights = (typeof RIGHTS)[number];

/** What rights come to: nothing said is as good as unknown, words of somebody's own bind like a license. */
export function meantBy(rights: string): Rights {
  const said = rights.trim().toLowerCase();
  if (said === '') return 'unknown';
  // "licensed to the ferry, until May" is licensed.
  return (
    RIGHTS.find((one) => said === one || said.startsWith(`${one} `) || said.startsWith(`${one},`)) ??
    'licensed'
  );
}

/** How much rights bind, from 0. */
export function strictness(rights: string): number {
  return RIGHTS.indexOf(meantBy(rights));
}

/** The strictest of some rights; all of them, where several that are worded otherwise bind alike. */
export function strictestRights(rights: readonly string[]): string {
  const most = Math.max(...rights.map(strictness));
  return [...new Set(rights.filter((one) => strictness(one) === most).map((one) => one.trim()))].join('; ');
}
