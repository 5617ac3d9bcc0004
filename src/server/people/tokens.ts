import { randomBytes } from 'node:crypto';
import { sha256Of } from '../checksum.ts';

/** 256 random bits, as text that fits a link and a cookie. */
export function newToken(): string {
  return randomBytes(32).toString('base64url');
}

/** What is kept of a token: who reads the database cannot use it. */
export function tokenHash(token: string): string {
  return sha256Of(new TextEncoder().encode(token));
}
