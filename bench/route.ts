import { indexOf } from '@basitax/core/document/doc';
import { measureGraph } from '@basitax/core/inspect/measure';
import { LiveRoutes } from '@basitax/core/route/live';
import { compileRoutes, routeWires } from '@basitax/core/route/route';
import { routeAll } from '@basitax/core/route/router';
import { layElk } from '@basitax/core/tests/engines';
import { fileLike, withSizes } from '@basitax/core/tests/graphs';
import { kinds } from '@basitax/demo/builder';
import { at } from './numbers.ts';
import { bigScene } from './scene.ts';

interface Row {
  readonly what: string;
  readonly ms: number;
  /** Of the time that elkjs takes in the same run to lay out 500 nodes: machines differ. */
  readonly ofElk: string;
  readonly note: string;
}

const timed = async (act: () => unknown): Promise<number> => {
  const started = performance.now();
  await act();
  return performance.now() - started;
};

/** Routing alone: 10,000 nodes where they are, and one of them in hand. Wall clock. */
export async function route(): Promise<Row[]> {
  await layElk(withSizes(fileLike(100, 100)));
  const elk = await timed(() => layElk(withSizes(fileLike(500, 500))));
  const rows: Row[] = [];
  const row = (what: string, ms: number, note: string): void =>
    void rows.push({ what, ms: Math.round(ms * 10) / 10, ofElk: (ms / elk).toFixed(3), note });
  row('elkjs, 500 nodes, the reference', elk, '');
  // warm
  routeWires(bigScene(1000, 1500), kinds, 'root');
  const doc = bigScene(10_000, 15_000);
  row(
    'compiling 10,000 nodes, 15,000 wires',
    await timed(() => compileRoutes(doc, kinds, 'root')),
    'sizes of nodes are worked out here once',
  );
  const { task } = compileRoutes(doc, kinds, 'root');
  let paths: ReturnType<typeof routeAll> = [];
  const all = await timed(() => {
    paths = routeAll(task);
  });
  const measures = measureGraph(doc, kinds, 'root');
  row(
    'routing all of them',
    all,
    `${paths.filter((path) => path && path.hits > 0).length} without a way, ${measures.throughNodes} through nodes, ${measures.crossings} crossings`,
  );
  const nodes = indexOf(doc).nodesIn('root');
  const begin: number[] = [];
  const steps: number[] = [];
  for (let k = 0; k < 40; k++) {
    const node = nodes[(k * 247) % nodes.length]!;
    let live: LiveRoutes | undefined;
    begin.push(
      await timed(() => {
        live = new LiveRoutes(doc, kinds, 'root', new Set([node.id]));
      }),
    );
    for (let step = 1; step <= 10; step++)
      steps.push(
        await timed(() => {
          for (const wire of indexOf(doc).wiresOf(node.id)) live!.route(wire, step * 7, step * 4);
        }),
      );
  }
  row('a node in hand: at its start, median', at(begin, 0.5), `95th percentile ${at(begin, 0.95).toFixed(1)} ms`);
  row(
    'a node in hand: each step, median',
    at(steps, 0.5),
    `95th percentile ${at(steps, 0.95).toFixed(2)} ms, most ${at(steps, 1).toFixed(2)} ms`,
  );
  return rows;
}
