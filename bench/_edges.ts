import { edgedTakes, scoreEdges } from './accuracy/edges.ts';
const s = scoreEdges(edgedTakes(210, 7000));
for (const x of s) console.log(x.kind, x.right, '/', x.takes, x.wrong.slice(0, 7).join('; '));
console.log(s.reduce((a, x) => a + x.right, 0) / 210);
