import { must } from '@basitax/core/must';
import { profileSchema } from '@basitax/core/rules/profile-schema';
import { type Rule, subjects } from '@basitax/core/rules/rule';
import { rules } from '@basitax/core/rules/rules';
import { z } from 'zod';

interface Schema {
  readonly properties?: Record<
    string,
    { readonly default?: unknown; readonly description?: string; readonly enum?: readonly string[] }
  >;
}

function optionsOf(rule: Rule): string[] {
  if (!rule.options) return [];
  const { properties = {} } = z.toJSONSchema(rule.options) as Schema;
  return [
    '',
    ...Object.entries(properties).map(
      ([name, one]) =>
        `- \`${name}\` (${one.enum ? `${one.enum.join(', ')}; ` : ''}${JSON.stringify(one.default)}): ${one.description}`,
    ),
  ];
}

const titled = (text: string): string => `${must(text[0]).toUpperCase()}${text.slice(1)}`;

/** The text of docs/house-rules.md. */
export function rulesPage(): string {
  const sample = profileSchema.parse({
    title: 'Lantern Reef',
    rules: {
      overlap: { severity: 'error' },
      'name-style': { where: 'not kind:note', options: { style: 'Capital_words' } },
      'long-bypassed': { severity: 'off' },
    },
  });
  return [
    '# House rules',
    '',
    'What a team holds a graph to. Each rule looks through a whole file, nested graphs too, and gives findings: how grave, where, in a sentence, and where that can be done by itself a fix, which is an operation like any other and can be undone. This page is made from the rules by `npm run docs`.',
    '',
    '```',
    'npx basitax check FILE… [--rules RULES.json] [--format text|json|sarif|junit] [--strict]',
    '```',
    '',
    'ends with status 1 where something is an error. SARIF 2.1.0 is what other tools show beside the lines of a file. `--rules` takes ids with commas between, or a file:',
    '',
    '```json',
    JSON.stringify(sample, null, 2),
    '```',
    '',
    'A rule that is named is looked for, unless its `severity` is `off`; `others` says of those that are not named whether the usual ones are looked for (`usual`) or none (`off`). `where` keeps a rule to what is about nodes like a [query](query.md); a finding about a frame counts where a member is like it. `options` are the limits below.',
    '',
    ...subjects.flatMap((subject) => [
      `## ${titled(subject)}`,
      '',
      ...rules
        .filter((rule) => rule.subject === subject)
        .flatMap((rule) => [
          `### ${rule.title}`,
          '',
          `\`${rule.id}\`, ${rule.severity}${rule.optional ? ', only where a profile names it' : ''}. ${rule.why} ${rule.instead}`,
          ...optionsOf(rule),
          '',
        ]),
    ]),
  ].join('\n');
}
