import { AsyncLocalStorage } from 'node:async_hooks';

const storage = new AsyncLocalStorage<string>();

/** Does something on behalf of somebody: whatever is asked for in it is theirs. */
export const onBehalfOf = <T>(person: string, act: () => T): T => storage.run(person, act);

/** On whose behalf something is done: nobody's where the server does it for itself. */
export const asker = (): string | undefined => storage.getStore();
