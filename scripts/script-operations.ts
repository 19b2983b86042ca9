// The part of docs/scripting.md that follows from the registry: every operation as a function, with its options.
import { operations } from '@basitax/core/operations';
import { aboutNeeds, aboutOption, optionsOf, typeOf } from '@basitax/core/script/check/declarations';
import { functionName } from '@basitax/core/script/function-name';

const escaped = (text: string): string => text.replace(/\|/g, '\\|').replace(/\s*\n\s*/g, ' ');

/** Every operation with what it does, what it takes, and its options with type, range, unit and default. */
export function operationsPage(): string {
  return [
    '## The operations',
    '',
    "`operations.arrange(nodes, { keep: 0.5 })` does what the editor does; `run('arrange', nodes, { keep: 0.5 })` and `nodes.run('arrange', { keep: 0.5 })` are the same. An option that is left out has its default.",
    '',
    ...operations.flatMap((one) => {
      const { properties = {}, required = [] } = optionsOf(one.options);
      const options = Object.entries(properties);
      return [
        `### ${functionName(one.id)}`,
        '',
        `*${one.title}*, \`${one.id}\`. ${one.about} ${aboutNeeds(one.needs)}`,
        '',
        ...(options.length === 0
          ? []
          : [
              '| option | type | |',
              '|---|---|---|',
              ...options.map(
                ([name, shape]) =>
                  `| \`${name}\`${required.includes(name) ? '' : '?'} | \`${escaped(typeOf(shape))}\` | ${escaped(aboutOption(shape))} |`,
              ),
              '',
            ]),
      ];
    }),
  ].join('\n');
}
