import { type Command, commonOptions, type OptionSpec, statuses, statusWords } from './command.ts';

const rows = (all: readonly (readonly [string, string])[], most = 34): string =>
  all
    .map(([name, about]) =>
      name.length < most ? `  ${name.padEnd(most)} ${about}` : `  ${name}\n  ${' '.repeat(most)} ${about}`,
    )
    .join('\n');

const optionRow = ([name, spec]: readonly [string, OptionSpec]): readonly [string, string] => [
  `${spec.short ? `-${spec.short}, ` : ''}--${name}${spec.value ? ` ${spec.value}` : ''}`,
  `${spec.about}${spec.choices ? ` One of ${spec.choices.join(', ')}.` : ''}`,
];

const statusRows = Object.entries(statuses).map(
  ([status, number]) => [String(number), statusWords[status as keyof typeof statuses]] as const,
);

const onInput = `FILE may be a folder, a pattern in quotes such as 'shots/**/*.graph.json', or - for standard input with --from.
Nodes are named by id, or by path: Nested/Node.`;

/** What `basitax --help` says. */
export const generalHelp = (
  commands: readonly Command[],
): string => `basitax — keeps node graphs readable, inspects them, and edits them in batches

Use: basitax COMMAND … ; basitax COMMAND --help says more

${rows(
  commands.map((one) => [one.name, one.about]),
  14,
)}

Options of every command:
${rows([...Object.entries(commonOptions).map(optionRow), ['--version', 'Print the version.']])}

${onInput}

Exit status, the worst of all files:
${rows(statusRows, 4)}
`;

/** What `basitax COMMAND --help` says. */
export const commandHelp = (one: Command): string => `basitax ${one.name} ${one.usage}

${one.about}

${rows(Object.entries({ ...one.options, ...commonOptions }).map(optionRow))}

${onInput}
Exit status:
${rows(statusRows, 4)}
`;

const roff = (text: string): string =>
  text
    .replace(/\\/g, '\\\\')
    .replace(/-/g, '\\-')
    .replace(/^([.'])/gm, '\\&$1');

/** A page for man(1). */
export function manPage(commands: readonly Command[], version: string): string {
  const options = (all: Readonly<Record<string, OptionSpec>>): string =>
    Object.entries(all)
      .map(optionRow)
      .map(([name, about]) => `.TP\n.B ${roff(name)}\n${roff(about)}`)
      .join('\n');
  return [
    `.TH BASITAX 1 "" "basitax ${version}" "User commands"`,
    '.SH NAME\nbasitax \\- keeps node graphs readable, inspects them, and edits them in batches',
    '.SH SYNOPSIS\n.B basitax\n.I COMMAND\n[\\fIoption\\fR …] [\\fIfile\\fR …]',
    `.SH DESCRIPTION\n${roff(onInput)}`,
    '.SH COMMANDS',
    ...commands.map((one) => `.SS ${roff(`${one.name} ${one.usage}`)}\n${roff(one.about)}\n${options(one.options)}`),
    `.SH OPTIONS OF EVERY COMMAND\n${options(commonOptions)}`,
    `.SH EXIT STATUS\n${statusRows.map(([status, about]) => `.TP\n.B ${status}\n${roff(about)}`).join('\n')}`,
    '.SH ENVIRONMENT\n.TP\n.B BASITAX_DEBUG\nSet to 1, shows where in its code the program failed.',
    '',
  ].join('\n');
}

const flags = (one: Command): string =>
  Object.keys({ ...one.options, ...commonOptions })
    .map((name) => `--${name}`)
    .join(' ');

/** Completion for a shell: commands, their options, files. */
export function completion(
  shell: 'bash' | 'zsh' | 'fish',
  commands: readonly Command[],
  operations: readonly string[],
): string {
  const names = commands.map((one) => one.name).join(' ');
  if (shell === 'fish')
    return [
      `complete -c basitax -n __fish_use_subcommand -f -a '${names}'`,
      ...commands.flatMap((one) =>
        Object.entries<OptionSpec>({ ...one.options, ...commonOptions }).map(
          ([name, spec]) =>
            `complete -c basitax -n '__fish_seen_subcommand_from ${one.name}' -l ${name}${spec.type === 'string' ? ' -r' : ''}${spec.choices ? ` -f -a '${spec.choices.join(' ')}'` : ''} -d '${spec.about.replace(/'/g, '’')}'`,
        ),
      ),
      `complete -c basitax -n '__fish_seen_subcommand_from run' -a '${operations.join(' ')}'`,
      '',
    ].join('\n');
  const bash = [
    '_basitax() {',
    // biome-ignore lint/suspicious/noTemplateCurlyInString: it is the shell that fills it in
    '  local word="${COMP_WORDS[COMP_CWORD]}" command="${COMP_WORDS[1]}"',
    `  if [ "$COMP_CWORD" -eq 1 ]; then COMPREPLY=( $(compgen -W "${names} --help --version" -- "$word") ); return; fi`,
    '  case "$command" in',
    ...commands.map(
      (one) =>
        `    ${one.name}) [[ "$word" == -* ]] && COMPREPLY=( $(compgen -W "${flags(one)}" -- "$word") ) && return${one.name === 'run' ? `; [ "$COMP_CWORD" -eq 2 ] && COMPREPLY=( $(compgen -W "${operations.join(' ')}" -- "$word") $(compgen -f -- "$word") ) && return` : ''} ;;`,
    ),
    '  esac',
    '  COMPREPLY=( $(compgen -f -- "$word") )',
    '}',
    'complete -o filenames -F _basitax basitax',
    '',
  ].join('\n');
  return shell === 'bash' ? bash : `autoload -U +X bashcompinit && bashcompinit\n${bash}`;
}
