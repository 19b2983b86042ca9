// npm run bench [-- arrange | canvas] : ours beside reference libraries on the same graphs in one run; ratios, since machines differ.
import { mkdirSync, writeFileSync } from 'node:fs';
import { engines } from '@basitax/core/tests/engines';
import { randomDag, straightCrossings, withSizes } from '@basitax/core/tests/graphs';
import { canvas } from './canvas.ts';

interface Row {
  readonly nodes: number;
  readonly wires: number;
  readonly engine: string;
  readonly ms: number;
  readonly crossings: number;
  readonly timeRatio: number;
  readonly crossingRatio: number;
}

async function arrange(): Promise<Row[]> {
  const rows: Row[] = [];
  for (const nodes of [50, 200, 500]) {
    const graph = withSizes(randomDag(nodes, nodes, nodes * 1.5));
    const measured: { engine: string; ms: number; crossings: number }[] = [];
    for (const [engine, layout] of Object.entries(engines)) {
      const started = process.cpuUsage();
      const laid = await layout(graph);
      const used = process.cpuUsage(started);
      measured.push({ engine, ms: Math.round((used.user + used.system) / 1000), crossings: straightCrossings(graph, laid.x, laid.y) });
    }
    const ours = measured[0]!;
    for (const one of measured)
      rows.push({ nodes, wires: graph.from.length, ...one, timeRatio: round(one.ms / Math.max(1, ours.ms)), crossingRatio: round((one.crossings + 1) / (ours.crossings + 1)) });
  }
  return rows;
}

const round = (value: number): number => Math.round(value * 100) / 100;

const benches: Record<string, (only?: string) => Promise<readonly object[]>> = { arrange, canvas };
const wanted = process.argv[2] ?? 'arrange';
const bench = benches[wanted];
if (!bench) {
  console.error(`There is no benchmark “${wanted}”; there are ${Object.keys(benches).join(', ')}.`);
  process.exitCode = 1;
} else {
  const rows = await bench(process.argv[3]);
  console.table(rows);
  const folder = new URL('../.basitax/bench/', import.meta.url);
  mkdirSync(folder, { recursive: true });
  writeFileSync(new URL(`${wanted}.json`, folder), JSON.stringify(rows, null, 2));
}
