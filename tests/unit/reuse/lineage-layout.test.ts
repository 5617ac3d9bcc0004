import assert from 'node:assert/strict';
import { test } from 'node:test';
import fc from 'fast-check';
import type { LineageNode } from '../../../src/server/library/lineage.ts';
import { LABEL, placedLineage } from '../../../src/views/reuse/lineage/lineage-layout.ts';

const node = (id: string): LineageNode => ({ id, kind: 'phrase', name: id, role: 'keys', isAside: false });

test('property: no two labels lie over each other, and every thread goes to the right', () => {
  const links = fc.uniqueArray(
    fc.tuple(fc.nat(24), fc.nat(24)).filter(([a, b]) => a < b),
    { maxLength: 60, selector: (pair) => pair.join() },
  );
  fc.assert(
    fc.property(links, (pairs) => {
      const nodes = Array.from({ length: 25 }, (_, k) => node(`n${k}`));
      const drawn = placedLineage({
        nodes,
        links: pairs.map(([a, b]) => ({ from: `n${a}`, to: `n${b}`, done: '' })),
      });
      const at = new Map(drawn.nodes.map((one) => [one.id, one]));
      for (const { from, to } of drawn.links) assert.ok(at.get(from)!.x + LABEL.width < at.get(to)!.x);
      for (const [k, a] of drawn.nodes.entries())
        for (const b of drawn.nodes.slice(k + 1))
          assert.ok(Math.abs(a.x - b.x) >= LABEL.width || Math.abs(a.y - b.y) >= LABEL.height);
      for (const { x, y } of drawn.nodes)
        assert.ok(x >= 0 && y >= 0 && x + LABEL.width <= drawn.width && y + LABEL.height <= drawn.height);
    }),
    { numRuns: 60 },
  );
});
