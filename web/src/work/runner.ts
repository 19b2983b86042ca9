import { Runner } from '@basitax/core/work/runner';

function openWorker(): import('@basitax/core/work/protocol').Channel {
  const worker = new Worker(new URL('./worker.ts', import.meta.url), { type: 'module' });
  return {
    post: (message) => worker.postMessage(message),
    listen: (receive) => worker.addEventListener('message', (event) => receive(event.data)),
    failed: (report) => worker.addEventListener('error', (event) => report(event.message || 'it could not be loaded')),
    terminate: () => worker.terminate(),
  };
}

/** What people wait for, and may cancel. */
export const workRunner = new Runner(openWorker);
/** What goes on behind: routes and measures, which must not wait for the former, nor end with it. */
export const drawRunner = new Runner(openWorker);
/** Advice, which is made anew while one works and must hold up neither. */
export const adviceRunner = new Runner(openWorker);
/** What is measured of each piece of advice, one after the other, while one reads it. */
export const measureRunner = new Runner(openWorker);
