// One engine over a list of graphs, in a process of its own, so that it can be timed and stopped: answers each graph
// with a line of JSON.
import { readFileSync } from 'node:fs';
import { fileLike, withSizes } from '@basitax/core/tests/graphs';
import { type EngineName, engines } from './engines.ts';
import { reviveGraph } from './plain.ts';

const [engine, input] = process.argv.slice(2) as [EngineName, string];
const lay = engines[engine];
// the first run pays for loading and compiling, which is not what is compared
await lay(withSizes(fileLike(300, 300)));
for (const plain of JSON.parse(readFileSync(input, 'utf8')) as Record<string, number[]>[]) {
  const graph = reviveGraph(plain);
  const started = process.cpuUsage();
  const laid = await lay(graph).catch((error: Error) => error);
  const used = process.cpuUsage(started);
  const cost = { ms: (used.user + used.system) / 1000, mb: Math.round(process.resourceUsage().maxRSS / 1024) };
  process.stdout.write(
    `${JSON.stringify(laid instanceof Error ? { ...cost, error: laid.message } : { ...cost, x: Array.from(laid.x), y: Array.from(laid.y), wires: laid.wires })}\n`,
  );
}
