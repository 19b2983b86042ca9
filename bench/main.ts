// npm run bench [-- arrange | canvas] : ours beside reference libraries on the same graphs in one run; ratios, since machines differ.
import { mkdirSync, writeFileSync } from 'node:fs';
import { ratios, runArrange } from './arrange/arrange.ts';
import { canvas } from './canvas.ts';

/** `-- arrange` for everything, `-- arrange small` for graphs of up to 500 nodes. */
async function arrange(only?: string): Promise<readonly object[]> {
  const runs = await runArrange(only === 'small' ? [50, 200, 500] : [50, 200, 500, 1000, 2000, 5000, 10_000]);
  console.table(
    runs
      .filter((run) => run.family !== 'MaterialX' && run.family !== 'graphviz')
      .map(({ graph, engine, ms, mb, own, routed }) => ({ graph, engine, ms, mb, ...own, byOurRouter: routed.crossings })),
  );
  console.table(ratios(runs));
  return runs;
}

const benches: Record<string, (only?: string) => Promise<readonly object[]>> = { arrange, canvas };
const wanted = process.argv[2] ?? 'arrange';
const bench = benches[wanted];
if (!bench) {
  console.error(`There is no benchmark “${wanted}”; there are ${Object.keys(benches).join(', ')}.`);
  process.exitCode = 1;
} else {
  const rows = await bench(process.argv[3]);
  if (wanted === 'canvas') console.table(rows);
  const folder = new URL('../.basitax/bench/', import.meta.url);
  mkdirSync(folder, { recursive: true });
  writeFileSync(new URL(`${wanted}.json`, folder), JSON.stringify(rows, null, 2));
}
