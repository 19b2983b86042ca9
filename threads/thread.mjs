// A worker thread of a program that runs from its sources: the tests, and the server while it is worked on. Loaders of
// the main thread do not reach it, so that it is plain JavaScript: the thread as a program, which starts in a fraction
// of the time, or its sources where that cannot be written.
import { pathToFileURL } from 'node:url';
import { program, unwritable } from './program.mjs';

async function source() {
  try {
    return pathToFileURL(await program('thread-alone', 'threads/worker.ts', 'threads/dist')).href;
  } catch (error) {
    if (!unwritable.includes(error.cause?.code)) throw error;
    const { register } = await import('tsx/esm/api');
    register();
    return './worker.ts';
  }
}

await import(await source());
