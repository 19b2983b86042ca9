import { type ChildProcess, spawn } from 'node:child_process';
import { serverArguments } from '@basitax/threads/program.mjs';
// @ts-expect-error plain script that has to run before anything is installed
import { freePort, root } from '../../scripts/machine.mjs';

export interface ServerProcess {
  readonly child: ChildProcess;
  readonly base: string;
  /** Ends it at once, in the middle of what it does. */
  kill(): Promise<void>;
  /** Asks it to end, as Ctrl-C does. */
  stop(): Promise<void>;
}

/**
 * A server process of its own over a database, with the workers that it starts; without the demo. Its clock may be off,
 * by so many milliseconds.
 */
export async function startProcess(
  databaseUrl: string,
  settings: Readonly<Record<string, string>> = {},
  clockOff = 0,
): Promise<ServerProcess> {
  const port = (await freePort()) as number;
  const child = spawn(process.execPath, await serverArguments(), {
    cwd: root as string,
    env: {
      ...process.env,
      DATABASE_URL: databaseUrl,
      PORT: String(port),
      BASITAX_DEMO: 'no',
      LOG_LEVEL: 'silent',
      ...(clockOff !== 0 && {
        NODE_OPTIONS: `--import ${new URL('skew.mjs', import.meta.url).href}`,
        CLOCK_SKEW: String(clockOff),
      }),
      ...settings,
    },
    stdio: ['ignore', 'pipe', 'ignore'],
  });
  const ended = new Promise<void>((done) => child.once('exit', () => done()));
  await new Promise<void>((done, fail) => {
    child.stdout!.on('data', (text: Buffer) => text.toString().includes('Basitax is at') && done());
    child.once('exit', (code, signal) => fail(new Error(`The server ended with ${code ?? signal}.`)));
  });
  const end = (signal: NodeJS.Signals) => async (): Promise<void> => {
    child.kill(signal);
    await ended;
  };
  return { child, base: `http://127.0.0.1:${port}`, kill: end('SIGKILL'), stop: end('SIGTERM') };
}
