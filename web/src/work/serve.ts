import { serveTasks } from '@basitax/core/work/serve';
import type { TaskTable } from '@basitax/core/work/task';
import { z } from 'zod';

/** Serves a family of tasks in a web worker. */
export function serve(tasks: TaskTable): void {
  // the page's content policy forbids making code from text, which Zod would try
  z.config({ jitless: true });
  serveTasks(tasks, {
    post: (message) => self.postMessage(message),
    listen: (receive) => self.addEventListener('message', (event) => receive(event.data)),
  });
}
