/** The path of a program of ours as plain JavaScript, made where it is not there yet or the sources have changed. `entry` and `dist` from the root of the project. */
export function program(name: string, entry: string, dist: string): Promise<string>;
/** The same; undefined where it cannot be written. */
export function programIfWritable(name: string, entry: string, dist: string): Promise<string | undefined>;
/** What Node takes to run the server. */
export function serverArguments(): Promise<string[]>;
