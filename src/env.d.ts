import type { Rule, SignedIn } from './server/people/permissions.ts';

declare global {
  namespace App {
    interface Locals {
      /** Who asks; null where nobody has to sign in. */
      person: SignedIn | null;
      /** What the request needed, and what is told of it. */
      rule: Rule | null;
      /** What was done, where an endpoint knows it better than its rule. */
      did?: string;
    }
  }
}
