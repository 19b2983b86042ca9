import { spawnSync } from 'node:child_process';
import { join } from 'node:path';
import { formatIds } from '@basitax/core/formats/endings';

/** Nodes and wires of each size. */
const sizes = [
  [10_000, 15_000],
  [50_000, 75_000],
] as const;
/** Formats that grow with the square of the nodes, or that route all wires: not asked at the larger size. */
const slow: ReadonlySet<string> = new Set(['matrix', 'svg']);

/**
 * Each format written and read in two sizes, in processes of their own, beside a reader of the registry
 * (graphology-gexf) on the same graph. CPU time in milliseconds, memory at its most in MB.
 */
export async function formatSpeeds(): Promise<readonly object[]> {
  const rows: object[] = [];
  for (const [nodes, wires] of sizes) {
    const measured = ['reference', ...formatIds.filter((id) => !slow.has(id))].map((id) => {
      const run = spawnSync(
        process.execPath,
        ['--import', 'tsx', join(import.meta.dirname, 'formats-child.ts'), id, String(nodes), String(wires)],
        { encoding: 'utf8' },
      );
      if (run.status !== 0) throw new Error(run.stderr);
      return { id, ...(JSON.parse(run.stdout) as { write: number; read: number; bytes: number; mb: number }) };
    });
    const reference = measured[0]!.read;
    for (const { id, write, read, bytes, mb } of measured)
      rows.push({
        format: id,
        nodes,
        write,
        read,
        'read ÷ reference': Math.round((read / reference) * 100) / 100,
        kilobytes: Math.round(bytes / 1024),
        mb,
      });
  }
  console.table(rows);
  return rows;
}
