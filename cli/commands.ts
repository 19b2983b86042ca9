import { describeOperations, operations } from '@basitax/core/operations';
import { type Command, command, Unusable } from './command.ts';
import { batchCommands } from './commands/batch.ts';
import { checkCommand } from './commands/check.ts';
import { convertCommands } from './commands/convert.ts';
import { gitCommands } from './commands/git.ts';
import { inspectCommands } from './commands/inspect.ts';
import { learnCommand } from './commands/learn.ts';
import { runCommand } from './commands/run.ts';
import { serverCommands } from './commands/server.ts';
import { tableCommands } from './commands/table.ts';
import { completion, manPage } from './help.ts';
import cli from './package.json' with { type: 'json' };

export const { version } = cli;

const listOperations = command({
  name: 'operations',
  usage: '[OPERATION]',
  about: 'Every operation, or the options of one with their types and defaults.',
  options: {},
  async run({ words, values }) {
    const described = describeOperations();
    const wanted = words.length === 0 ? described : described.filter((one) => words.includes(one.id));
    const unknown = words.find((id) => !described.some((one) => one.id === id));
    if (unknown !== undefined) throw new Unusable(`there is no operation “${unknown}”. See basitax operations.`);
    if (values.json) process.stdout.write(`${wanted.map((one) => JSON.stringify(one)).join('\n')}\n`);
    else if (words.length === 0)
      process.stdout.write(`${operations.map((one) => `${one.id.padEnd(20)} ${one.about}`).join('\n')}\n`);
    else process.stdout.write(`${wanted.map(optionsText).join('\n\n')}\n`);
    return 'fine';
  },
});

interface OptionShape {
  readonly type?: string;
  readonly enum?: readonly unknown[];
  readonly default?: unknown;
  readonly title?: string;
  readonly description?: string;
  readonly minimum?: number;
  readonly maximum?: number;
}

function optionsText({ id, title, about, options }: ReturnType<typeof describeOperations>[number]): string {
  const shapes = Object.entries((options as { properties?: Record<string, OptionShape> }).properties ?? {});
  const rows = shapes.map(([name, one]) => {
    const range =
      one.minimum === undefined && one.maximum === undefined
        ? ''
        : ` from ${one.minimum ?? '…'} to ${one.maximum ?? '…'}`;
    const type = one.enum ? one.enum.join(' | ') : `${one.type ?? 'any'}${range}`;
    const fallback = one.default === undefined ? '' : `, by default ${JSON.stringify(one.default)}`;
    return `  ${name.padEnd(16)} ${type}${fallback}\n  ${' '.repeat(16)} ${one.title ?? ''}${one.description ? `: ${one.description}` : ''}`;
  });
  return [`${id}: ${title}`, about, ...(rows.length > 0 ? ['Options:', ...rows] : ['No options.'])].join('\n');
}

const shells = ['bash', 'zsh', 'fish'] as const;

const completionCommand = command({
  name: 'completion',
  usage: 'bash|zsh|fish',
  about: 'Prints completion for a shell, to be loaded when it starts.',
  options: {},
  async run({ words }) {
    const shell = shells.find((one) => one === words[0]);
    if (!shell || words.length !== 1) throw new Unusable('completion takes bash, zsh or fish.');
    process.stdout.write(
      completion(
        shell,
        commands,
        operations.map((one) => one.id),
      ),
    );
    return 'fine';
  },
});

const man = command({
  name: 'man',
  usage: '',
  about: 'Prints a manual page: basitax man > basitax.1',
  options: {},
  async run() {
    process.stdout.write(manPage(commands, version));
    return 'fine';
  },
});

/** Every command, in the order in which the help has them. */
export const commands: readonly Command[] = [
  ...convertCommands,
  ...inspectCommands,
  checkCommand,
  runCommand,
  ...batchCommands,
  ...tableCommands,
  learnCommand,
  ...gitCommands,
  ...serverCommands,
  listOperations,
  completionCommand,
  man,
];
