// A worker thread starts as plain JavaScript and learns TypeScript here, since loaders of the main thread do not reach
// it.
import { register } from 'tsx/esm/api';

register();
await import('./worker.ts');
