import { spawn } from 'node:child_process';
import { fileURLToPath } from 'node:url';
import { type Shape, shapes } from './growth-shapes.ts';

interface Row {
  readonly shape: Shape;
  readonly task: string;
  /** Milliseconds of processor time by number of nodes. */
  readonly [size: `ms of ${number}`]: number | undefined;
  /** The power of n that the time grows with between the two largest sizes: 1 is in proportion. */
  readonly power: string;
  /** The time over that of reading and writing the same text by the platform's own JSON, at the largest size. */
  readonly ofJson: string;
  readonly mb: number | undefined;
}

interface Told {
  readonly task: string;
  readonly ms: number;
  readonly mb: number;
}

/** One shape in one size may take so long, in milliseconds of wall clock. */
const patience = 600_000;

/** Everything that is done to files, over shapes that hurt, up to 50,000 nodes; `only` is a shape, or the largest size. */
export async function growth(only?: string): Promise<Row[]> {
  const largest = Number(only) || 50_000;
  const sizes = [2000, 10_000, 50_000].filter((size) => size <= largest);
  const rows: Row[] = [];
  for (const shape of shapes.filter((one) => Number(only) || only === undefined || one === only)) {
    const bySize = new Map<number, Map<string, Told>>();
    for (const size of sizes) {
      bySize.set(size, new Map((await run(shape, size)).map((told) => [told.task, told])));
      console.error(`${shape}: ${size} nodes done`);
    }
    const [small, large] = sizes.slice(-2) as [number, number];
    for (const task of bySize.get(sizes[0] ?? 0)?.keys() ?? []) {
      const at = (size: number): Told | undefined => bySize.get(size)?.get(task);
      const [a, b, json] = [at(small), at(large), bySize.get(large)?.get(reference)];
      if (task === reference) continue;
      rows.push({
        shape,
        task,
        ...Object.fromEntries(sizes.map((size) => [`ms of ${size}`, at(size) && Math.round(at(size)?.ms ?? 0)])),
        power: a && b ? (Math.log(b.ms / a.ms) / Math.log(large / small)).toFixed(2) : 'not in time',
        ofJson: b && json ? (b.ms / json.ms).toFixed(1) : '',
        mb: b?.mb,
      });
    }
  }
  return rows;
}

const reference = 'JSON of the platform';

function run(shape: Shape, size: number): Promise<Told[]> {
  const child = spawn(
    process.execPath,
    [
      '--stack-size=4000',
      '--import',
      'tsx',
      fileURLToPath(new URL('growth-child.ts', import.meta.url)),
      shape,
      String(size),
    ],
    { stdio: ['ignore', 'pipe', 'inherit'] },
  );
  const parts: Buffer[] = [];
  child.stdout.on('data', (part: Buffer) => parts.push(part));
  return new Promise((done) => {
    const timer = setTimeout(() => child.kill('SIGKILL'), patience);
    child.on('exit', () => {
      clearTimeout(timer);
      const lines = Buffer.concat(parts).toString().split('\n').slice(0, -1);
      done(lines.map((line) => JSON.parse(line) as Told));
    });
  });
}
