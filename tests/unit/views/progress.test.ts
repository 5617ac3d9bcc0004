import assert from 'node:assert/strict';
import { afterEach, test } from 'node:test';
import { QueryObserver } from '@tanstack/react-query';
import { queryClient } from '../../../src/views/api/queries.ts';
import { hearProgress } from '../../../src/views/app/news/progress.ts';
import { until } from '../../support/until.ts';

/** What a page shows of long work follows the news, in whatever order they and the answers come. */

afterEach(() => queryClient.clear());

/** A batch that a page looks at: each look is answered when the test says so. */
function looked() {
  const answers: ((state: string) => void)[] = [];
  const observer = new QueryObserver(queryClient, {
    queryKey: ['batch', 'b'],
    queryFn: () => new Promise<string>((resolve) => answers.push(resolve)),
  });
  const stop = observer.subscribe(() => {});
  return { answers, shown: () => observer.getCurrentResult().data, stop };
}

test('an end that is told while the first look is under way is not missed', async () => {
  const { answers, shown, stop } = looked();
  assert.equal(answers.length, 1);
  hearProgress({ type: 'progress', work: 'batch', id: 'b', isOver: true });
  answers[0]!('looking');
  await until('it is looked once more', () => Promise.resolve(answers.length === 2), { every: 5 });
  answers[1]!('looked');
  await until('the end is shown', () => Promise.resolve(shown() === 'looked'), { every: 5 });
  stop();
});

test('work that tells of itself more often than it is answered is looked at one look after the other', async () => {
  const { answers, shown, stop } = looked();
  answers[0]!('0 of 9');
  await until('it is shown', () => Promise.resolve(shown() === '0 of 9'), { every: 5 });
  for (let done = 1; done < 9; done++)
    hearProgress({ type: 'progress', work: 'batch', id: 'b', done, of: 9 });
  assert.equal(answers.length, 2);
  answers[1]!('3 of 9');
  await until('it is shown', () => Promise.resolve(shown() === '3 of 9'), { every: 5 });
  hearProgress({ type: 'progress', work: 'batch', id: 'another', isOver: true });
  assert.equal(answers.length, 2, 'what becomes of another is not asked here');
  stop();
});
