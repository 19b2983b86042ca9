import { createRequire } from 'node:module';
import { pathToFileURL } from 'node:url';
import { Piscina } from 'piscina';
import { HttpProblem } from '../http/problem.ts';

/** Two at once, each some 20 ms and 19 MB; what waits longer than a second or two is told to come again. */
const threads = new Piscina({
  filename: pathToFileURL(createRequire(import.meta.url).resolve('@basitax/server/hash-worker')).href,
  minThreads: 0,
  maxThreads: 2,
  maxQueue: 60,
  idleTimeout: 30_000,
  execArgv: [],
});

async function run<T>(input: { password: string; stored?: string }): Promise<T> {
  if (threads.queueSize >= threads.options.maxQueue)
    throw new HttpProblem(503, 'Too many sign-ins', 'Too many people are signing in. Try again in a moment.', {}, 3);
  return (await threads.run(input)) as T;
}

/** The hash of a password, as it is stored. Throws HttpProblem 503 where too many wait. */
export const hashPassword = (password: string): Promise<string> => run({ password });

/** Does a password fit what is stored? Throws as `hashPassword`. */
export const verifyPassword = (stored: string, password: string): Promise<boolean> => run({ password, stored });

/** An unknown login costs as much as a wrong password, so that the two cannot be told apart. */
export const nobodysHash =
  '$argon2id$v=19$m=19456,t=2,p=1$AAAAAAAAAAAAAAAAAAAAAA$AAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAA';
