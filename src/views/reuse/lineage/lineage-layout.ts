import dagre from '@dagrejs/dagre';
import type { Lineage, LineageLink, LineageNode } from '../../../server/library/lineage.ts';

/** A label of the drawing, and the ways between labels. In pixels. */
export const LABEL = { width: 176, height: 40 };
const APART = { down: 12, across: 72 };
const MARGIN = 12;

export interface PlacedNode extends LineageNode {
  /** Left upper corner. */
  x: number;
  y: number;
}

export interface PlacedLink extends LineageLink {
  /** The way from the right edge of one to the left edge of the other, as the path of an SVG. */
  path: string;
  /** Where what was done is written. */
  x: number;
  y: number;
}

/** A lineage as a drawing: from the left to the right, no two labels over each other. */
export function placedLineage({ nodes, links }: Pick<Lineage, 'nodes' | 'links'>): {
  nodes: PlacedNode[];
  links: PlacedLink[];
  width: number;
  height: number;
} {
  const graph = new dagre.graphlib.Graph();
  graph.setGraph({
    rankdir: 'LR',
    nodesep: APART.down,
    ranksep: APART.across,
    marginx: MARGIN,
    marginy: MARGIN,
  });
  graph.setDefaultEdgeLabel(() => ({}));
  for (const { id } of nodes) graph.setNode(id, { ...LABEL });
  for (const { from, to } of links) graph.setEdge(from, to);
  dagre.layout(graph);
  const at = new Map(
    nodes.map(({ id }) => {
      const { x, y } = graph.node(id) as { x: number; y: number };
      return [id, { x: x - LABEL.width / 2, y: y - LABEL.height / 2 }];
    }),
  );
  const placed = nodes.map((node) => ({ ...node, ...at.get(node.id)! }));
  return {
    nodes: placed,
    links: links.map((link) => ({ ...link, ...wayBetween(at.get(link.from)!, at.get(link.to)!) })),
    width: Math.max(0, ...placed.map(({ x }) => x + LABEL.width)) + MARGIN,
    height: Math.max(0, ...placed.map(({ y }) => y + LABEL.height)) + MARGIN,
  };
}

/** A thread that leaves and arrives level. */
function wayBetween(from: { x: number; y: number }, to: { x: number; y: number }) {
  const [x1, y1] = [from.x + LABEL.width, from.y + LABEL.height / 2];
  const [x2, y2] = [to.x, to.y + LABEL.height / 2];
  const bend = (x2 - x1) / 2;
  return {
    path: `M${x1} ${y1}C${x1 + bend} ${y1} ${x2 - bend} ${y2} ${x2} ${y2}`,
    x: x1 + bend,
    y: (y1 + y2) / 2,
  };
}
