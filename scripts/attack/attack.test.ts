import { expect, it } from 'vitest';
import { accidents } from './accidents.ts';
import { readBroken } from './reading.ts';

// The short form of `npm run attack`; what it sends to a server is in server/hostile.test.ts and threads/hostile.test.ts.

it('broken files of all formats are read whole or refused in a sentence, none of them without end', async () => {
  const told = await readBroken(2500, 1);
  expect(told.faults).toEqual([]);
  expect(Math.min(told.read, told.refused)).toBeGreaterThan(200);
}, 300_000);

it('servers, MariaDB and a backup killed while people save, import and run batches lose nothing that was accepted', async () => {
  const said: string[] = [];
  expect(await accidents(4, (line) => said.push(line), 3)).toEqual([]);
  const counts = /(\d+) saves, (\d+) imports, (\d+) batches/.exec(said.at(-1)!)!.slice(1).map(Number);
  expect(Math.min(...counts)).toBeGreaterThan(0);
}, 300_000);
