import { type ChildProcess, spawn } from 'node:child_process';
import { mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { serverArguments } from '@basitax/threads/program.mjs';
// @ts-expect-error plain scripts that have to run before anything is installed
import { ensureBuilt, freePort, root } from '../../scripts/machine.mjs';
// @ts-expect-error as above
import { startMariadb } from '../../scripts/mariadb.mjs';

/** Starts the real thing for all tests. */
export default async function setup(): Promise<() => Promise<void>> {
  await ensureBuilt();
  const { address, stop } = await startApplication();
  process.env.E2E_ADDRESS = address;
  return stop;
}

/**
 * A throwaway MariaDB, the built web application, the server with the demo data: another one for tests that change what
 * all see.
 */
export async function startApplication(): Promise<{ readonly address: string; stop(): Promise<void> }> {
  const folder = mkdtempSync(join(tmpdir(), 'basitax-e2e-'));
  const database = await startMariadb(join(folder, 'db'), { throwaway: true });
  const port = await freePort();
  const server: ChildProcess = spawn(process.execPath, await serverArguments(), {
    cwd: root,
    env: {
      ...process.env,
      NODE_ENV: 'production',
      PORT: String(port),
      DATABASE_URL: database.url,
      WEB_FOLDER: join(root, 'web/dist'),
      CHECK_ANSWERS: 'yes',
    },
    stdio: ['ignore', 'pipe', 'inherit'],
  });
  await new Promise<void>((done, fail) => {
    server.stdout?.on('data', (text: Buffer) => text.toString().includes('Basitax is at') && done());
    server.on('exit', (code) => fail(new Error(`The server ended with ${code} before it was ready.`)));
  });
  const stop = async (): Promise<void> => {
    await new Promise<void>((done) => {
      server.removeAllListeners('exit');
      server.on('exit', () => done());
      server.kill('SIGTERM');
    });
    await database.stop();
    rmSync(folder, { recursive: true, force: true });
  };
  return { address: `http://127.0.0.1:${port}`, stop };
}
