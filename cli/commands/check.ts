import type { Finding } from '@basitax/core/finding';
import { junitText } from '@basitax/core/formats/junit';
import { type Checked, sarifLog } from '@basitax/core/formats/sarif';
import { askedBy, profileProblem } from '@basitax/core/rules/profile';
import { profileSchema } from '@basitax/core/rules/profile-schema';
import { type Asked, checkAsked, ruleById, rules } from '@basitax/core/rules/rules';
import { type Command, Unusable } from '../command.ts';
import { fileCommand } from '../engine.ts';
import type { Io } from '../io.ts';
import cli from '../package.json' with { type: 'json' };

const { version } = cli;

interface Values {
  readonly format?: string | undefined;
}

/** What is looked for: a profile from a file, rules by id, or the usual ones. */
async function askedOf(io: Io, text: string | undefined): Promise<readonly Asked[]> {
  if (text === undefined) return askedBy(profileSchema.parse({}));
  if (text.toLowerCase().endsWith('.json')) {
    const profile = await io.json(text, profileSchema, 'profile of house rules');
    const problem = profileProblem(profile);
    if (problem) throw new Unusable(`${text}: ${problem.message}`);
    return askedBy(profile);
  }
  const ids = text.split(',').filter(Boolean);
  const unknown = ids.find((id) => !ruleById(id));
  if (unknown !== undefined)
    throw new Unusable(`there is no house rule “${unknown}”. There are: ${rules.map((rule) => rule.id).join(', ')}.`);
  return rules.filter((rule) => ids.includes(rule.id)).map((rule) => ({ rule }));
}

const statusOf = (findings: readonly Finding[], isStrict: boolean | undefined): 'findings' | 'fine' =>
  findings.some((item) => item.severity === 'error' || (isStrict && item.severity === 'warning')) ? 'findings' : 'fine';

interface Looking {
  readonly asked: readonly Asked[];
  /** Filled as files are looked at, where all of them go into one log. */
  readonly all: Checked[];
}

const isLog = ({ format }: Values): boolean => format === 'sarif' || format === 'junit';

export const checkCommand: Command = fileCommand({
  name: 'check',
  usage: 'FILE… [--rules RULES.json|ID,…] [--format text|json|sarif|junit]',
  about: 'What house rules find; status 1 if any of it is an error.',
  options: {
    rules: {
      type: 'string',
      value: 'RULES.json|ID,…',
      about: 'A profile of house rules, or rules by id. If you name none, the rules that are on by default.',
    },
    format: {
      type: 'string',
      value: 'FORMAT',
      choices: ['text', 'json', 'sarif', 'junit'],
      about: 'How to print it; SARIF is version 2.1.0.',
    },
    strict: { type: 'boolean', about: 'Exit with status 1 for warnings too, not only for errors.' },
  },
  writes: false,
  says: 'lines',
  inThreads: ({ values }) => !isLog(values),
  inJson: ({ values }) => values.format === 'json',
  prepare: async ({ values, io }): Promise<Looking> => ({ asked: await askedOf(io, values.rules), all: [] }),
  async each(file, { doc, kinds }, { values, io }, { asked, all }) {
    const findings = checkAsked(doc, kinds, asked);
    const status = statusOf(findings, values.strict);
    if (isLog(values)) {
      all.push({ file, text: await io.text(file), doc, findings });
      return { status };
    }
    return {
      status,
      json: { findings },
      text:
        findings.map((item) => `${item.severity}: ${item.rule}: ${item.message}`).join('\n') || 'nothing was found.',
    };
  },
  finish({ values }, { asked, all }) {
    if (!isLog(values)) return undefined;
    return values.format === 'junit' ? junitText(all) : JSON.stringify(sarifLog(all, asked, version), null, 2);
  },
});
