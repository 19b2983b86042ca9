import { parentPort } from 'node:worker_threads';
import { serveTasks } from '@basitax/core/work/serve';

const port = parentPort;
if (!port) throw new Error('This file runs as a worker thread.');
serveTasks({ post: (message) => port.postMessage(message), listen: (receive) => port.on('message', receive) });
