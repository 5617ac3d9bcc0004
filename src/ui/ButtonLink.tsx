import type { AnchorHTMLAttributes } from 'react';
import { Link } from 'react-router';

const LOOK =
  'inline-flex items-center justify-center rounded-[3px] border border-rule bg-card hover:border-ink';
const SMALL = 'h-6 px-1.5 text-xs';
const LARGE = 'h-8 px-3';

/** A link to another view that looks like a button. */
export function ViewLink({ to, small = false, children }: { to: string; small?: boolean; children: string }) {
  return (
    <Link to={to} className={`${LOOK} ${small ? SMALL : LARGE}`}>
      {children}
    </Link>
  );
}

/** A link to a file that looks like a button. */
export function FileLink({
  small = false,
  ...props
}: AnchorHTMLAttributes<HTMLAnchorElement> & { small?: boolean }) {
  return <a download className={`${LOOK} ${small ? SMALL : LARGE}`} {...props} />;
}
