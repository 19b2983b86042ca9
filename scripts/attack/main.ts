// npm run attack -- [--reading N] [--scripts N] [--files N] [--accidents N]: broken files through the readers; hostile
// scripts and broken files against a server of its own on loopback; then servers, MariaDB and backups killed while
// people save, import and let batches run. Where one is named, the others are left out. Ends with status 1 where
// something went through.
import { availableParallelism } from 'node:os';
import { parseArgs } from 'node:util';
import { accidents } from './accidents.ts';
import { attackServer } from './on-server.ts';
import { readBroken } from './reading.ts';

const usual = { reading: 100_000, scripts: 1, files: 1500, accidents: 24 };
const text = { type: 'string' } as const;
const { values } = parseArgs({ options: { reading: text, scripts: text, files: text, accidents: text } });
const countOf = (part: keyof typeof usual): number => {
  const said = values[part];
  if (said === undefined) return Object.keys(values).length === 0 ? usual[part] : 0;
  const count = Number(said);
  if (Number.isInteger(count) && count >= 0 && count <= 10_000_000) return count;
  throw new Error(`--${part} takes a number, not “${said}”.`);
};
const faults: string[] = [];
const say = (line: string): void => console.log(line);

if (countOf('reading') > 0) {
  const told = await readBroken(countOf('reading'), availableParallelism());
  say(`broken files: ${told.read} read, ${told.refused} refused, the slowest in ${Math.round(told.slowest)} ms`);
  faults.push(...told.faults);
}
if (countOf('scripts') + countOf('files') > 0)
  faults.push(...(await attackServer({ scripts: countOf('scripts'), files: countOf('files') }, say)));
if (countOf('accidents') > 0) faults.push(...(await accidents(countOf('accidents'), say)));
for (const fault of [...new Set(faults)].slice(0, 40)) console.error(fault);
say(faults.length === 0 ? 'Nothing went through.' : `${faults.length} went through.`);
process.exitCode = faults.length === 0 ? 0 : 1;
