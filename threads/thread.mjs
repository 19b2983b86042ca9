// A worker thread of a program that runs from its sources: the tests, and the server while it is worked on. Loaders of
// the main thread do not reach it, so that it is plain JavaScript.
import { pathToFileURL } from 'node:url';
import { programIfWritable } from './program.mjs';

const path = await programIfWritable('thread-alone', 'threads/worker.ts', 'threads/dist');
if (path === undefined) (await import('tsx/esm/api')).register();
await import(path === undefined ? './worker.ts' : pathToFileURL(path).href);
