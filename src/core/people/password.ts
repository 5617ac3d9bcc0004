/** Shortest and longest password, in characters (OWASP ASVS 4.0.3, 2.1.1 and 2.1.2). */
export const PASSWORD = { shortest: 12, longest: 128 };
