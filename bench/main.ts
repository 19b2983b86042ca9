// npm run bench [-- arrange | batch | route | canvas | edit | formats | frames | growth | keep | links | page | inspect | search | server
// | session] : ours beside reference libraries on the same graphs in one run; ratios, since machines differ.
import { mkdirSync, writeFileSync } from 'node:fs';
import { ratios, runArrange } from './arrange/arrange.ts';
import { batch } from './batch.ts';
import { canvas } from './canvas.ts';
import { edit } from './edit.ts';
import { formatSpeeds } from './formats.ts';
import { frames } from './frames.ts';
import { growth } from './growth.ts';
import { inspect } from './inspect.ts';
import { keep } from './keep.ts';
import { links } from './links.ts';
import { page } from './page.ts';
import { route } from './route.ts';
import { search } from './search.ts';
import { server } from './server.ts';
import { session } from './session.ts';

const sizes: Record<string, readonly number[]> = {
  small: [50, 200, 500],
  medium: [50, 200, 500, 1000],
  all: [50, 200, 500, 1000, 2000, 5000, 10_000],
};

/**
 * `-- arrange` for everything, which takes an hour; `-- arrange small` or `medium` for generated graphs of up to 500 or
 * 1,000 nodes.
 */
async function arrange(only?: string): Promise<readonly object[]> {
  const runs = await runArrange(sizes[only ?? 'all'] ?? sizes.all!);
  console.table(
    runs
      .filter((run) => run.family !== 'MaterialX' && run.family !== 'graphviz')
      .map(({ graph, engine, ms, mb, own, routed }) => ({
        graph,
        engine,
        ms,
        mb,
        ...own,
        byOurRouter: routed.crossings,
      })),
  );
  console.table(ratios(runs));
  return runs;
}

const benches: Record<string, (only?: string) => Promise<readonly object[]>> = {
  arrange,
  batch,
  canvas,
  edit,
  formats: formatSpeeds,
  frames,
  growth,
  inspect,
  keep: async (only) => keep(only),
  links,
  page: async (only) => page(only),
  route,
  search,
  server,
  session,
};
const wanted = process.argv[2] ?? 'arrange';
const bench = benches[wanted];
if (!bench) {
  console.error(`There is no benchmark “${wanted}”; there are ${Object.keys(benches).join(', ')}.`);
  process.exitCode = 1;
} else {
  const rows = await bench(process.argv[3]);
  if (wanted !== 'arrange') console.table(rows);
  const folder = new URL('../.basitax/bench/', import.meta.url);
  mkdirSync(folder, { recursive: true });
  writeFileSync(new URL(`${wanted}.json`, folder), JSON.stringify(rows, null, 2));
}
