import { serveTasks } from '@basitax/core/work/serve';
import { z } from 'zod';

// the page's content policy forbids making code from text, which Zod would try
z.config({ jitless: true });
serveTasks({
  post: (message) => self.postMessage(message),
  listen: (receive) => self.addEventListener('message', (event) => receive(event.data)),
});
