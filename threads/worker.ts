import { setPriority } from 'node:os';
import { getHeapStatistics } from 'node:v8';
import { parentPort, workerData } from 'node:worker_threads';
import { sandboxMemoryLetGo } from '@basitax/core/script/sandbox';
import { serveTasks } from '@basitax/core/work/serve';
import { tasks } from '@basitax/core/work/tasks';

const port = parentPort;
if (!port) throw new Error('This file runs as a worker thread.');
// on Linux this is the priority of the thread that asks, not of its process
if ((workerData as { patient?: boolean } | null)?.patient) setPriority(19);

/** Bytes that a thread may hold between two jobs. */
const mostHeld = 160 * 1024 * 1024;
/** Bytes of memory of scripts that were let go, of which nobody can say when they are free again. */
const mostLetGo = 48 * 1024 * 1024;

serveTasks(
  tasks,
  { post: (message) => port.postMessage(message), listen: (receive) => port.on('message', receive) },
  () => {
    const { total_physical_size: heap, external_memory: outside } = getHeapStatistics();
    return heap + outside > mostHeld || sandboxMemoryLetGo() > mostLetGo;
  },
);
