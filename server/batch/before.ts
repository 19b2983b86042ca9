import type { BatchItem, batchesApi, ItemState } from '@basitax/api/batches';
import type { Person } from '@basitax/api/people';
import { plural } from '@basitax/core/words';
import type { z } from 'zod';
import { BatchRunRow } from '../db/batch-models.ts';
import { closedFiles } from '../projects/access.ts';
import type { Batches } from './batches.ts';

type Compared = z.output<typeof batchesApi.before.answer>;

/** What a file came to, whatever has been decided since. */
const outcomes: Partial<Record<ItemState, string>> = {
  unchanged: 'nothing to change',
  'left-out': 'left out',
  stopped: 'stopped',
  failed: 'failed',
  cancelled: 'not planned',
  waiting: 'not planned yet',
};
const outcomeOf = ({ state }: BatchItem): string => outcomes[state] ?? 'would change';

const more = (count: number, one: string): string => `${plural(Math.abs(count), one)} ${count > 0 ? 'more' : 'fewer'}`;

/** Points of readability that are worth telling. */
const leastPoints = 0.5;

/** How a file in one run differs from the same file in the run before, in words; empty where it came out alike. */
export function differences(was: BatchItem | null, is: BatchItem | null): string[] {
  if (!is) return ['not among the files any more'];
  if (!was) return ['new among the files'];
  const said: string[] = [];
  const [then, now] = [outcomeOf(was), outcomeOf(is)];
  if (then !== now) said.push(`${now}; ${then} in the run before`);
  else if (was.why !== is.why && is.why !== '') said.push(is.why);
  if (!was.summary || !is.summary) return said;
  for (const severity of ['error', 'warning'] as const) {
    const change = is.summary.findings[severity] - was.summary.findings[severity];
    if (change !== 0) said.push(more(change, severity));
  }
  const points = is.summary.score.before - was.summary.score.before;
  if (Math.abs(points) >= leastPoints)
    said.push(`readability ${was.summary.score.before.toFixed(0)} → ${is.summary.score.before.toFixed(0)}`);
  const size = ({ counts }: NonNullable<BatchItem['summary']>): number =>
    counts.added + counts.removed + counts.changed;
  const changes = size(is.summary) - size(was.summary);
  if (then === now && changes !== 0) said.push(more(changes, 'change'));
  return said;
}

/** How the files of a run differ from the run that it repeats, as far as a person sees both. */
export async function comparedWithBefore(batches: Batches, id: string, person: Person): Promise<Compared> {
  const { repeats } = await batches.run(id, person);
  const before = repeats === null ? null : await BatchRunRow.findByPk(repeats);
  if (!before) return { run: null, same: 0, files: [] };
  const hidden = new Set(await closedFiles(person));
  const seen = async (run: string): Promise<Map<string, BatchItem>> =>
    new Map((await batches.items(run)).flatMap((item) => (hidden.has(item.file) ? [] : [[item.file, item]])));
  const [was, is] = [await seen(before.id), await seen(id)];
  const files = [...new Set([...is.keys(), ...was.keys()])].map((file) => {
    const [then, now] = [was.get(file) ?? null, is.get(file) ?? null];
    return { file, title: (now ?? then)?.title ?? '', said: differences(then, now), was: then, is: now };
  });
  const different = files.filter((one) => one.said.length > 0);
  return {
    run: { id: before.id, title: before.title, createdAt: before.createdAt.toISOString() },
    same: files.length - different.length,
    files: different,
  };
}
