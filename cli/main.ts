import { parseArgs } from 'node:util';
import { isMainThread, parentPort, workerData } from 'node:worker_threads';
import { closestTo, didYouMean } from '@basitax/core/closest';
import { type Call, type Command, commonOptions, type OptionSpec, statuses, Unusable } from './command.ts';
import { commands, version } from './commands.ts';
import { problemOf } from './engine.ts';
import { commandHelp, generalHelp } from './help.ts';
import { Io } from './io.ts';

type AnyCall = Call<Readonly<Record<string, never>>>;

/** Runs one command; gives the exit status. */
export async function main(argv: readonly string[]): Promise<number> {
  const [first, ...rest] = argv;
  if (first === '--version') {
    process.stdout.write(`basitax ${version}\n`);
    return statuses.fine;
  }
  if (first === undefined || first === '--help' || first === '-h' || (first === 'help' && rest[0] === undefined)) {
    (first === undefined ? process.stderr : process.stdout).write(generalHelp(commands));
    return first === undefined ? statuses.unusable : statuses.fine;
  }
  try {
    const one = commandNamed(first === 'help' ? (rest[0] ?? '') : first);
    const call = callOf(one, rest);
    if (first === 'help' || call.values.help) {
      process.stdout.write(commandHelp(one));
      return statuses.fine;
    }
    return statuses[await one.run(call)];
  } catch (error) {
    const { status, message } = problemOf(error);
    process.stderr.write(`basitax: ${message}\n`);
    return statuses[status];
  }
}

function commandNamed(name: string): Command {
  const found = commands.find((one) => one.name === name);
  if (found) return found;
  const names = commands.map((one) => one.name);
  throw new Unusable(`there is no command “${name}”.${didYouMean(name, names)} See basitax --help.`);
}

function callOf(one: Command, argv: readonly string[]): AnyCall {
  const specs: Readonly<Record<string, OptionSpec>> = { ...one.options, ...commonOptions };
  try {
    const { values, positionals } = parseArgs({
      args: [...argv],
      options: Object.fromEntries(
        Object.entries(specs).map(([name, { type, short, multiple }]) => [
          name,
          { type, ...(short !== undefined && { short }), ...(multiple && { multiple }) },
        ]),
      ),
      allowPositionals: true,
      strict: true,
    });
    checkChoices(specs, values);
    return { values: values as AnyCall['values'], words: positionals, io: new Io() };
  } catch (error) {
    if (error instanceof Unusable) throw error;
    const wrong = /'(--?[^'\s]+)/.exec((error as Error).message)?.[1];
    const meant = wrong && closestTo(wrong.slice(2), Object.keys(specs));
    const hint = meant ? ` Did you mean --${meant}?` : '';
    throw new Unusable(`${(error as Error).message.split('. ')[0]}.${hint} See basitax ${one.name} --help.`);
  }
}

function checkChoices(specs: Readonly<Record<string, OptionSpec>>, values: Readonly<Record<string, unknown>>): void {
  for (const [name, { choices }] of Object.entries(specs)) {
    const value = values[name];
    if (!choices || typeof value !== 'string' || choices.includes(value)) continue;
    throw new Unusable(`--${name} takes ${choices.join(choices.length === 2 ? ' or ' : ', ')}, not “${value}”.`);
  }
}

/** In a thread of a call over many files: each file as its number comes. */
async function serve(argv: readonly string[]): Promise<void> {
  const port = parentPort;
  const [name = '', ...rest] = argv;
  const one = commandNamed(name);
  if (!port || !one.serve) throw new Error(`The command ${name} is not for threads.`);
  await one.serve(callOf(one, rest), async (each, files) => {
    port.on('message', (at: number) => {
      void each(files[at] ?? '').then(({ status, out, err }) => port.postMessage({ at, done: { status, out, err } }));
    });
    port.postMessage('ready');
  });
}

if (!isMainThread) await serve((workerData as { argv: readonly string[] }).argv);
