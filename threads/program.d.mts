/** The path of a program of ours as plain JavaScript, made where it is not there yet or the sources have changed. `entry` and `dist` from the root of the project. */
export function program(name: string, entry: string, dist: string): Promise<string>;
/** Codes of errors that say that nothing can be written there. */
export const unwritable: readonly string[];
/** What Node takes to run the server. */
export function serverArguments(): Promise<string[]>;
