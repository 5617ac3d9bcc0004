import { keepPreviousData, useQuery } from '@tanstack/react-query';
import { Archive, Package, ScrollText, Table2 } from 'lucide-react';
import { useMemo, useState } from 'react';
import { Link, useSearchParams } from 'react-router';
import type { Lineage, LineageNode } from '../../../server/library/lineage.ts';
import { Busy, EmptyState } from '../../../ui/EmptyState.tsx';
import { RoleMark } from '../../../ui/drawing/RoleMark.tsx';
import { request } from '../../api/client.ts';
import { LABEL, placedLineage, type PlacedNode } from './lineage-layout.ts';

/** What came from what, and what went into which weave, basket and pack. */
export default function LineageView() {
  const [params] = useSearchParams();
  const { data, error } = useQuery({
    queryKey: ['lineage', params.toString()],
    queryFn: () => request<Lineage>(`/api/lineage?${params}`),
    placeholderData: keepPreviousData,
  });
  if (error) return <EmptyState title="This lineage could not be drawn">{error.message}</EmptyState>;
  if (!data) return <Busy what="Looking what came from what" />;
  return <Drawing lineage={data} />;
}

function Drawing({ lineage }: { lineage: Lineage }) {
  const drawn = useMemo(() => placedLineage(lineage), [lineage]);
  const [near, setNear] = useState<string | null>(null);
  const of = lineage.nodes.find(({ id }) => id === lineage.of);
  const isNear = ({ from, to }: { from: string; to: string }) =>
    near === null || from === near || to === near;
  return (
    <div className="flex min-w-0 flex-1 flex-col gap-2 px-5 pt-4 pb-3">
      <h1 className="text-xl">Lineage{of ? ` of ${of.name}` : ''}</h1>
      <p className="text-sm text-muted">
        From what was captured, through what was made of it, to where it stands and what it left in.
        {lineage.more && ' Of more than fits a drawing, the nearest are shown.'}
      </p>
      <div className="min-h-0 flex-1 overflow-auto">
        <div className="relative" style={{ width: drawn.width, height: drawn.height }}>
          <svg className="absolute inset-0" width={drawn.width} height={drawn.height} aria-hidden="true">
            {drawn.links.map((link) => (
              <path
                key={`${link.from} ${link.to}`}
                d={link.path}
                fill="none"
                stroke={near !== null && isNear(link) ? 'var(--madder)' : 'var(--muted)'}
                strokeWidth={link.done ? 2 : 1.25}
                strokeDasharray={link.done ? undefined : '4 3'}
              />
            ))}
          </svg>
          {near !== null &&
            drawn.links
              .filter((link) => link.done && isNear(link))
              .map((link) => (
                <span
                  key={`${link.from} ${link.to}`}
                  className="pointer-events-none absolute z-10 max-w-56 -translate-x-1/2 -translate-y-1/2 truncate rounded-[3px] bg-paper px-1 text-xs text-muted"
                  style={{ left: link.x, top: link.y }}
                >
                  {link.done}
                </span>
              ))}
          {drawn.nodes.map((node) => (
            <Label
              key={node.id}
              node={node}
              isOf={node.id === lineage.of}
              done={lineage.links.find(({ to, done }) => to === node.id && done)?.done}
              onNear={setNear}
            />
          ))}
        </div>
      </div>
    </div>
  );
}

/** A label: what it is, and where it opens. */
function Label({
  node,
  isOf,
  done,
  onNear,
}: {
  node: PlacedNode;
  isOf: boolean;
  done: string | undefined;
  onNear: (id: string | null) => void;
}) {
  const face = isOf ? 'border-2 border-ink bg-select' : 'border border-rule bg-card hover:border-ink';
  const style = { left: node.x, top: node.y, ...LABEL };
  const shown = (
    <>
      <KindMark node={node} />
      <span className="min-w-0 flex-1">
        <span className="block truncate text-sm">{node.name}</span>
        <span className="block truncate text-xs leading-tight text-muted">
          {node.isAside ? 'set aside' : (done ?? WORDS[node.kind])}
        </span>
      </span>
    </>
  );
  const common = {
    className: `absolute flex items-center gap-2 rounded-[3px] px-2 ${face}`,
    style,
    title: done ? `${node.name}: ${done}` : node.name,
    onMouseEnter: () => onNear(node.id),
    onMouseLeave: () => onNear(null),
    onFocus: () => onNear(node.id),
    onBlur: () => onNear(null),
  };
  const to = addressOf(node);
  return to ? (
    <Link to={to} {...common}>
      {shown}
    </Link>
  ) : (
    <span tabIndex={0} {...common}>
      {shown}
    </span>
  );
}

const WORDS: Readonly<Record<LineageNode['kind'], string>> = {
  take: 'as it was captured',
  phrase: 'cut from it',
  weave: 'a weave',
  basket: 'a basket',
  pack: 'has left',
};

function KindMark({ node: { kind, role } }: { node: LineageNode }) {
  if (role) return <RoleMark role={role} bare />;
  const Icon = { take: ScrollText, phrase: ScrollText, weave: Table2, basket: Archive, pack: Package }[kind];
  return <Icon size={14} className="flex-none text-muted" aria-hidden="true" />;
}

function addressOf({ kind, id }: LineageNode): string | null {
  if (kind === 'pack') return null;
  return {
    take: `/split/${id}`,
    phrase: `/reuse/lineage?phrase=${id}`,
    weave: `/reuse/weave/${id}`,
    basket: `/handoff/${id}`,
  }[kind];
}
