import { useId } from 'react';
import type { Role } from '../../core/split/roles.ts';
import { ROLE_LOOK, type Weave } from './roles.ts';

/** A pattern of the weave, eight units square; the plain weave is the dye itself. */
function WeaveLines({ weave }: { weave: Weave }) {
  const line = { stroke: 'currentColor', strokeWidth: 1.4, fill: 'none' };
  switch (weave) {
    case 'plain':
      return <rect width="8" height="8" fill="currentColor" />;
    case 'dots':
      return (
        <g fill="currentColor">
          <circle cx="2" cy="2" r="1.1" />
          <circle cx="6" cy="6" r="1.1" />
        </g>
      );
    case 'grid':
      return <path d="M0 2H8M0 6H8M2 0V8M6 0V8" {...line} strokeWidth={1} />;
    case 'twill':
      return <path d="M-2 6L6 -2M0 8L8 0M2 10L10 2" {...line} />;
    case 'counter':
      return <path d="M-2 2L6 10M0 0L8 8M2 -2L10 6" {...line} />;
    case 'rib':
      return <path d="M0 2H8M0 6H8" {...line} />;
    case 'cord':
      return <path d="M2 0V8M6 0V8" {...line} />;
    case 'zigzag':
      return <path d="M0 3L2 1L4 3L6 1L8 3M0 7L2 5L4 7L6 5L8 7" {...line} strokeWidth={1.1} />;
    case 'dash':
      return <path d="M1 2H4M5 6H8" {...line} />;
  }
}

/** A filled area in a role's dye and weave, `size` pixels a repeat. Sizes itself to what it is put in. */
export function RoleWeave({ role, className, size = 8 }: { role: Role; className?: string; size?: number }) {
  const id = useId();
  const { dye, weave } = ROLE_LOOK[role];
  return (
    <svg
      className={className}
      style={{ color: `var(--${dye})` }}
      aria-hidden="true"
      width="100%"
      height="100%"
    >
      <defs>
        <pattern id={id} width={size} height={size} viewBox="0 0 8 8" patternUnits="userSpaceOnUse">
          {weave !== 'plain' && <rect width="8" height="8" fill="currentColor" opacity="0.16" />}
          <WeaveLines weave={weave} />
        </pattern>
      </defs>
      <rect width="100%" height="100%" fill={`url(#${id})`} />
    </svg>
  );
}

/** The small square by which a role is known, and its name beside it. */
export function RoleMark({ role, bare = false }: { role: Role; bare?: boolean }) {
  const { title, dye } = ROLE_LOOK[role];
  return (
    <span className="inline-flex max-w-full items-center gap-1.5 align-middle whitespace-nowrap">
      <span
        className="inline-block size-3.5 flex-none overflow-hidden rounded-[2px] border"
        style={{ borderColor: `var(--${dye})` }}
      >
        <RoleWeave role={role} className="block" size={6} />
      </span>
      {!bare && title}
    </span>
  );
}
