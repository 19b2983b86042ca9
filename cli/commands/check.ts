import type { Finding } from '@basitax/core/finding';
import { junitText } from '@basitax/core/formats/junit';
import { type Checked, sarifLog } from '@basitax/core/formats/sarif';
import { askedBy, profileProblem } from '@basitax/core/rules/profile';
import { profileSchema } from '@basitax/core/rules/profile-schema';
import { type Asked, checkAsked, ruleById, rules } from '@basitax/core/rules/rules';
import {
  type Call,
  type Command,
  command,
  type Loaded,
  type Outcome,
  readOptions,
  Unusable,
  type ValuesOf,
} from '../command.ts';
import { fileCommand } from '../engine.ts';
import type { Io } from '../io.ts';
import cli from '../package.json' with { type: 'json' };

const { version } = cli;
const shapes = ['text', 'json', 'sarif', 'junit'] as const;

const checkOptions = {
  rules: {
    type: 'string',
    value: 'RULES.json|ID,…',
    about: 'A profile of house rules, or rules by id. By default the usual ones.',
  },
  format: { type: 'string', value: 'FORMAT', choices: shapes, about: 'text, json, sarif (SARIF 2.1.0) or junit.' },
  strict: { type: 'boolean', about: 'Status 1 for warnings too, not for errors alone.' },
} as const;
type Values = Call<ValuesOf<typeof checkOptions>>['values'];

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

const outcomeOf = ({ doc, kinds }: Loaded, asked: readonly Asked[], values: Values): Outcome => {
  const findings = checkAsked(doc, kinds, asked);
  return {
    status: statusOf(findings, values.strict),
    json: { findings },
    text: findings.map((item) => `${item.severity}: ${item.rule}: ${item.message}`).join('\n') || 'nothing was found.',
  };
};

const perFile = fileCommand({
  name: 'check',
  usage: 'FILE… [--rules RULES.json|ID,…] [--format text|json|sarif|junit]',
  about: 'What house rules find; status 1 where it is an error.',
  options: checkOptions,
  writes: false,
  says: 'lines',
  inThreads: true,
  prepare: ({ values, io }) => askedOf(io, values.rules),
  each: (_file, loaded, { values }, asked) => outcomeOf(loaded, asked, values),
});

/** One log over all files. */
const inOneLog = command({
  name: 'check',
  usage: '',
  about: '',
  options: { ...readOptions, ...checkOptions },
  async run({ words, values, io }) {
    const asked = await askedOf(io, values.rules);
    const all: Checked[] = [];
    for (const file of words) {
      const loaded = await io.load(file, values.catalogue, values.from);
      all.push({
        file,
        text: await io.text(file),
        doc: loaded.doc,
        findings: checkAsked(loaded.doc, loaded.kinds, asked),
      });
    }
    const text = values.format === 'junit' ? junitText(all) : JSON.stringify(sarifLog(all, asked, version), null, 2);
    process.stdout.write(`${text}\n`);
    return statusOf(
      all.flatMap((one) => one.findings),
      values.strict,
    );
  },
});

export const checkCommand: Command = {
  ...perFile,
  async run(call) {
    const { format, json } = call.values as Values;
    const shape = format ?? (json ? 'json' : 'text');
    if (!shapes.some((one) => one === shape))
      throw new Unusable(`--format takes ${shapes.join(', ')}, not “${shape}”.`);
    if (shape === 'sarif' || shape === 'junit') {
      if (call.words.length === 0) throw new Unusable('check takes at least one file. See basitax check --help.');
      const { filesNamed } = await import('../names.ts');
      return inOneLog.run({ ...call, words: filesNamed(call.words) });
    }
    return perFile.run({ ...call, values: Object.assign({}, call.values, { json: shape === 'json' }) });
  },
};
