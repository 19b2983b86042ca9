import { setPriority } from 'node:os';
import { parentPort, workerData } from 'node:worker_threads';
import { serveTasks } from '@basitax/core/work/serve';
import { tasks } from '@basitax/core/work/tasks';

const port = parentPort;
if (!port) throw new Error('This file runs as a worker thread.');
// on Linux this is the priority of the thread that asks, not of its process
if ((workerData as { patient?: boolean } | null)?.patient) setPriority(19);
serveTasks(tasks, { post: (message) => port.postMessage(message), listen: (receive) => port.on('message', receive) });
