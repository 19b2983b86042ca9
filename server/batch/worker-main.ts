import { hostname } from 'node:os';
import { Pool } from '@basitax/threads/pool';
import { httpAssetStore } from '../assets/store.ts';
import { open } from '../db/connect.ts';
import { FileStore } from '../files/store.ts';
import { BatchWorker } from './worker.ts';

// A process that works on batch runs: `DATABASE_URL=… node --import tsx server/batch/worker-main.ts [--stay]`, or as
// `program` of `threads/program.mjs` makes it. Ends when there has been nothing to do for a while.

const idle = 20_000;
const url = process.env.DATABASE_URL;
if (!url) throw new Error('DATABASE_URL is missing.');
const stays = process.argv.includes('--stay');
const sequelize = open(url);
const pool = new Pool(1, { kept: 200, fresh: 64 });
const worker = new BatchWorker(
  sequelize,
  new FileStore(sequelize, pool),
  pool,
  `${hostname()} ${process.pid}`.slice(0, 100),
  process.env.ASSET_STORE_URL ? httpAssetStore(process.env.ASSET_STORE_URL) : undefined,
);

let isOpen = true;
for (const signal of ['SIGTERM', 'SIGINT'] as const) process.on(signal, () => process.exit(0));
// the server that started this is gone: its database may be too
process.on('disconnect', () => process.exit(0));

/** Files in hand at once: while the thread works on one, another is read or stored. */
const inHand = 2;
let lastWork = Date.now();

async function workOn(): Promise<void> {
  while (isOpen) await workOnce();
}

async function workOnce(): Promise<void> {
  let did = false;
  try {
    did = await worker.work();
  } catch (error) {
    // the database may be away for a moment; what was claimed is taken up again when its lease is over
    console.error(`batch worker: ${error instanceof Error ? error.message : String(error)}`);
    await new Promise((done) => setTimeout(done, 1000));
  }
  if (did) lastWork = Date.now();
  else {
    if (!stays && Date.now() - lastWork > idle) isOpen = false;
    await new Promise((done) => setTimeout(done, 300));
  }
}

await Promise.all(Array.from({ length: inHand }, workOn));
pool.close();
await sequelize.close();
process.exit(0);
