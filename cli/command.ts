import type { Doc } from '@basitax/core/document/doc';
import type { Kinds } from '@basitax/core/document/kinds';
import type { Finding } from '@basitax/core/finding';
import type { Io } from './io.ts';

/** What the command line ends with, the worst last: with several files it is the worst of them. */
export const statuses = { fine: 0, findings: 1, unusable: 2, conflict: 3, failed: 4 } as const;
export type Status = keyof typeof statuses;

export const statusWords: Readonly<Record<Status, string>> = {
  fine: 'all went well',
  findings:
    'done, and there is something to look at: a finding, a difference, a repair, or with --check a change to make',
  unusable: 'the call is wrong, or the input cannot be used',
  conflict: 'a conflict: somebody else changed the same thing',
  failed: 'a script, a recipe, a server or the program itself failed',
};

export const worst = (all: readonly Status[]): Status =>
  all.reduce<Status>((one, other) => (statuses[other] > statuses[one] ? other : one), 'fine');

/** A wrong call or unusable input: one sentence, status 2. */
export class Unusable extends Error {
  readonly status: Status = 'unusable';
}

/** A script, recipe or server that failed: one sentence, status 4. */
export class Failed extends Unusable {
  override readonly status = 'failed';
}

/** Somebody else changed the same: one sentence, status 3. */
export class Conflict extends Unusable {
  override readonly status = 'conflict';
}

export interface OptionSpec {
  readonly type: 'string' | 'boolean';
  readonly short?: string;
  readonly multiple?: true;
  /** What stands for its value in the help. */
  readonly value?: string;
  readonly choices?: readonly string[];
  readonly about: string;
}

type ValueOf<O extends OptionSpec> = O['type'] extends 'boolean'
  ? boolean
  : O extends { readonly multiple: true }
    ? string[]
    : string;
export type ValuesOf<O extends Readonly<Record<string, OptionSpec>>> = {
  readonly [K in keyof O]?: ValueOf<O[K]> | undefined;
};

/** Options of every command. */
export const commonOptions = {
  json: { type: 'boolean', about: 'Print one line of JSON for each file.' },
  quiet: { type: 'boolean', short: 'q', about: 'Print problems only.' },
  help: { type: 'boolean', short: 'h', about: 'Explain the command.' },
} as const satisfies Readonly<Record<string, OptionSpec>>;

/** Options of commands that read files. */
export const readOptions = {
  catalogue: {
    type: 'string',
    value: 'FILE',
    about: 'The catalogue of kinds. By default NAME.catalogue.json beside the file.',
  },
  from: { type: 'string', value: 'FORMAT', about: 'The format to read, if the file name does not show it.' },
  columns: {
    type: 'string',
    value: 'ROLES',
    about: 'What the columns of a table are, by title or number: source=Von,target=Nach, or id=1,label=2.',
  },
  beside: { type: 'string', value: 'FILE', about: 'A table of nodes that belongs to the table of edges.' },
  files: {
    type: 'string',
    value: 'QUERY',
    about: 'Only files that fit a query, such as “nodes>50 has(kind:blur)”; the others are passed over.',
  },
  'keep-going': {
    type: 'boolean',
    short: 'k',
    about: 'Continue after a file that cannot be read; the exit status is that of the worst file.',
  },
} as const satisfies Readonly<Record<string, OptionSpec>>;

/** Options of commands that write files. */
export const writeOptions = {
  output: {
    type: 'string',
    short: 'o',
    value: 'OUT',
    about:
      'Where to write: a file, a folder, NAME.zip, or - for standard output; NAME.gz is packed. By default each file is changed in place.',
  },
  to: { type: 'string', value: 'FORMAT', about: 'The format to write, if no file name shows it.' },
  routes: { type: 'boolean', about: 'Write the routes of wires too.' },
  scale: { type: 'string', value: '0.05…8', about: 'Pixels of a PNG for one pixel at 100 % zoom. By default 1.' },
  'dry-run': { type: 'boolean', short: 'n', about: 'Write nothing; say what would change.' },
  check: { type: 'boolean', about: 'Write nothing; exit with status 1 if something would change.' },
} as const satisfies Readonly<Record<string, OptionSpec>>;

export interface Loaded {
  readonly doc: Doc;
  readonly kinds: Kinds;
  readonly findings: readonly Finding[];
}

/** What a command makes of one file. */
export interface Outcome {
  /** Beside what findings say. */
  readonly status?: Status;
  /** For people; nothing where there is nothing to say. */
  readonly text?: string;
  /** The fields of its record. */
  readonly json?: Readonly<Record<string, unknown>>;
  readonly findings?: readonly Finding[];
  /** What is to be written; absent where nothing changes. */
  readonly doc?: Doc;
  readonly kinds?: Kinds;
  /** Files that are written beside, by name. */
  readonly outputs?: readonly { readonly name: string; readonly text: string }[];
}

export type CommonValues = ValuesOf<typeof commonOptions & typeof readOptions & typeof writeOptions>;

export interface Call<V> {
  readonly values: V & CommonValues;
  readonly words: readonly string[];
  readonly io: Io;
}

/** What became of one file: what is to be printed, in two streams, and the status. */
export interface Done {
  readonly status: Status;
  readonly out: string | Uint8Array;
  readonly err: string;
}

type Taken = (each: (file: string) => Promise<Done>, files: readonly string[]) => Promise<void>;

export interface Command {
  readonly name: string;
  /** What follows the name, in the help. */
  readonly usage: string;
  readonly about: string;
  readonly options: Readonly<Record<string, OptionSpec>>;
  run(call: Call<Readonly<Record<string, never>>>): Promise<Status>;
  /** In a thread of the call: files as they come. */
  serve?(call: Call<Readonly<Record<string, never>>>, take: Taken): Promise<void>;
}

/** Keeps the types of the options while declaring. */
export const command = <const O extends Readonly<Record<string, OptionSpec>>>(one: {
  readonly name: string;
  readonly usage: string;
  readonly about: string;
  readonly options: O;
  readonly run: (call: Call<ValuesOf<O>>) => Promise<Status>;
  readonly serve?: (call: Call<ValuesOf<O>>, take: Taken) => Promise<void>;
}): Command => one as unknown as Command;
