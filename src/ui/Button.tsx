import type { ButtonHTMLAttributes } from 'react';

const KINDS = {
  primary: 'bg-indigo text-on-dye border-indigo font-bold hover:brightness-110',
  plain: 'bg-card text-ink border-rule hover:border-ink',
  quiet: 'border-transparent text-muted hover:text-ink hover:bg-sunk',
} as const;

/** A button. Its label is its name: an icon alone needs `aria-label`. */
export function Button({
  kind = 'plain',
  small = false,
  className = '',
  ...props
}: ButtonHTMLAttributes<HTMLButtonElement> & { kind?: keyof typeof KINDS; small?: boolean }) {
  return (
    <button
      type="button"
      className={`inline-flex items-center justify-center gap-1.5 rounded-[3px] border whitespace-nowrap disabled:opacity-45 ${
        small ? 'h-6 px-1.5 text-xs' : 'h-8 px-3'
      } ${KINDS[kind]} ${className}`}
      {...props}
    />
  );
}

/** A button that is on or off, such as solo. */
export function Toggle({
  on,
  className = '',
  ...props
}: ButtonHTMLAttributes<HTMLButtonElement> & { on: boolean }) {
  return (
    <button
      type="button"
      aria-pressed={on}
      className={`h-6 rounded-[3px] border px-1.5 text-xs ${
        on ? 'border-ink bg-ink text-paper' : 'border-rule bg-card text-muted hover:border-ink hover:text-ink'
      } ${className}`}
      {...props}
    />
  );
}
