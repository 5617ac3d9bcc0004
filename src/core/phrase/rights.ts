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

/** Words of somebody's own bind like a license: there are terms to be read. */
const OWN_WORDS = RIGHTS.indexOf('licensed');

/** How much rights bind, from 0; nothing said is as good as unknown. */
export function strictness(rights: string): number {
  const said = rights.trim().toLowerCase();
  if (said === '') return RIGHTS.indexOf('unknown');
  // "licensed to the ferry, until May" is licensed.
  const known = RIGHTS.findIndex(
    (one) => said === one || said.startsWith(`${one} `) || said.startsWith(`${one},`),
  );
  return known < 0 ? OWN_WORDS : known;
}

/** The strictest of some rights; all of them, where several that are worded otherwise bind alike. */
export function strictestRights(rights: readonly string[]): string {
  const most = Math.max(...rights.map(strictness));
  return [...new Set(rights.filter((one) => strictness(one) === most).map((one) => one.trim()))].join('; ');
}
