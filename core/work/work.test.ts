import { describe, expect, it } from 'vitest';
import { emptyDoc } from '../document/doc.ts';
import { readStored, writeDoc } from '../document/file.ts';
import { UnreadableFile } from '../document/unreadable.ts';
import { apply } from '../edit/step.ts';
import { Cancelled } from '../operation.ts';
import { Refused } from '../said.ts';
import { sketchDoc, testCatalogue } from '../tests/arbitrary.ts';
import type { Channel } from './protocol.ts';
import { Runner } from './runner.ts';
import { serveTasks } from './serve.ts';
import { tasks } from './tasks.ts';

/**
 * Both sides in one thread over a queue; what crosses is cloned, as between real threads. The real threads are tested
 * in server and e2e.
 */
function pair(): { channel: Channel; alive: () => boolean } {
  let toHost: (message: unknown) => void = () => {};
  let toWorker: (message: unknown) => void = () => {};
  let alive = true;
  const later = (act: () => void): void => void setTimeout(() => alive && act(), 0);
  serveTasks(tasks, {
    post: (message) => {
      const copy = structuredClone(message);
      later(() => toHost(copy));
    },
    listen: (receive) => {
      toWorker = receive;
    },
  });
  return {
    alive: () => alive,
    channel: {
      post: (message) => {
        const copy = structuredClone(message);
        later(() => toWorker(copy));
      },
      listen: (receive) => {
        toHost = receive;
      },
      terminate: () => {
        alive = false;
      },
    },
  };
}

const doc = sketchDoc().node('a', 'src').node('b', 'round', { x: 10, y: 10 }).wire('a.out', 'b.in').doc;
const catalogue = testCatalogue;
const plan = { operation: 'arrange', selection: { graph: 'root', items: [] }, options: {}, seed: 1, review: true };

describe('the worker runner', () => {
  it('runs operations on documents that are sent once and then by edits, with progress', async () => {
    const runner = new Runner(() => pair().channel);
    const seen: number[] = [];
    const first = await runner.run('plan', plan, { doc, catalogue, onProgress: ({ fraction }) => seen.push(fraction) });
    expect(first.review?.fingerprint.verdict).toBe('same');
    expect(seen.length).toBeGreaterThan(0);
    const moved = apply(doc, first.edit);
    const second = await runner.run('plan', plan, { doc: moved, catalogue });
    expect(second.edit.steps).toEqual([]);
    runner.close();
  });

  it('cancels what runs and what waits, and goes on with the rest', async () => {
    const opened: ReturnType<typeof pair>[] = [];
    const runner = new Runner(() => {
      opened.push(pair());
      return opened.at(-1)!.channel;
    });
    const [stop, drop] = [new AbortController(), new AbortController()];
    const running = runner.run('plan', plan, { doc, catalogue, signal: stop.signal });
    const waiting = runner.run('plan', plan, { doc, catalogue, signal: drop.signal });
    const kept = runner.run('inspect', {}, { doc, catalogue });
    drop.abort();
    stop.abort();
    await expect(running).rejects.toThrow(Cancelled);
    await expect(waiting).rejects.toThrow(Cancelled);
    expect((await kept).size.nodes).toBe(2);
    expect(opened.map((one) => one.alive())).toEqual([false, true]);
    await expect(runner.run('inspect', {}, { doc, catalogue, signal: stop.signal })).rejects.toThrow(Cancelled);
  });

  it('hands errors over by their kind', async () => {
    const runner = new Runner(() => pair().channel);
    await expect(runner.run('plan', { ...plan, operation: 'fly' }, { doc, catalogue })).rejects.toMatchObject({
      name: 'Refused',
      code: 'core.no-operation',
      params: { id: 'fly' },
    });
    await expect(runner.run('read', { name: 'a.graphml', content: 'x' }, { catalogue })).rejects.toThrow('well-formed');
    const packed = await runner.run('routes', { graph: 'root' }, { doc, catalogue });
    expect([packed.ids, packed.corners.length]).toEqual([['a.out>b.in'], packed.start[1]! * 2]);
    expect((await runner.run('inspect', {}, { doc: readStored(writeDoc(doc)), catalogue })).size.nodes).toBe(2);
    expect((await runner.run('write', { format: 'graphml' }, { doc, catalogue })).text).toContain('<graphml');
    await expect(
      runner.run('inspect', {}, { doc: '{"format":"basitax-graph","version":7}', catalogue }),
    ).rejects.toThrow(UnreadableFile);
    expect((await runner.run('inspect', {}, { doc: writeDoc(emptyDoc('d', 't')), catalogue })).size.nodes).toBe(0);
  });

  it('ends a worker that takes longer than it may, says so, and goes on with another', async () => {
    let opened = 0;
    const runner = new Runner(() => {
      opened++;
      // the first one never answers
      return opened === 1 ? { post: () => {}, listen: () => {}, terminate: () => {} } : pair().channel;
    });
    const limit = { ms: 30, say: { message: 'It took too long.', code: 'test.long', params: {} } };
    await expect(runner.run('routes', { graph: 'root' }, { doc, catalogue, limit })).rejects.toThrow(
      new Refused(limit.say),
    );
    expect(
      (await runner.run('routes', { graph: 'root' }, { doc, catalogue, limit: { ...limit, ms: 5000 } })).ids,
    ).toEqual(['a.out>b.in']);
    expect(opened).toBe(2);
  });
});
