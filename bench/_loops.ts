import { loopedParts, scoreLoops, throughComposed, falseLoops } from './accuracy/loops.ts';
const s = scoreLoops(loopedParts(301, 20000));
for (const x of s) console.log(x.kind, x.right, '/', x.parts, x.wrong.slice(0, 12).join('; '));
console.log(
  'total',
  s.reduce((a, x) => a + x.right, 0) / 301,
  'false',
  falseLoops(throughComposed(200, 30000)),
);
