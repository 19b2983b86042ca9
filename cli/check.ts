import { type Checked, sarifLog } from '@basitax/core/formats/sarif';
import { QueryError } from '@basitax/core/query/query';
import { askedBy, profileProblem } from '@basitax/core/rules/profile';
import { profileSchema } from '@basitax/core/rules/profile-schema';
import { type Asked, checkAsked, ruleById, rules } from '@basitax/core/rules/rules';
import { type Files, jsonOf } from './batch.ts';
import cli from './package.json' with { type: 'json' };
import { Unusable } from './unusable.ts';

const { version } = cli;

const shapes = ['text', 'json', 'sarif'] as const;

/** What is looked for: a profile from a file, rules by id, or the usual ones. */
async function askedOf(files: Files, text: string | undefined): Promise<Asked[]> {
  if (text === undefined) return askedBy(profileSchema.parse({}));
  if (text.toLowerCase().endsWith('.json')) {
    const profile = await jsonOf(files, text, profileSchema, 'profile of house rules');
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

/** `check FILE…`: what house rules find; 1 where one of it is an error. */
export async function check(
  files: Files,
  names: readonly string[],
  values: {
    readonly rules?: string | undefined;
    readonly format?: string | undefined;
    readonly json?: boolean | undefined;
  },
): Promise<number> {
  const shape = values.format ?? (values.json ? 'json' : 'text');
  if (!shapes.some((one) => one === shape)) throw new Unusable(`--format takes ${shapes.join(', ')}, not “${shape}”.`);
  const asked = await askedOf(files, values.rules);
  const all: Checked[] = [];
  for (const file of names) {
    const { doc, kinds } = await files.load(file);
    try {
      const findings = checkAsked(doc, kinds, asked);
      all.push({ file, text: shape === 'sarif' ? await files.text(file) : '', doc, findings });
      if (shape === 'text')
        for (const item of findings) files.say(`${file}: ${item.severity}: ${item.rule}: ${item.message}`);
    } catch (error) {
      if (error instanceof QueryError) throw new Unusable(`${file}: ${error.message}`);
      throw error;
    }
  }
  const found = all.flatMap((one) => one.findings);
  if (shape === 'json')
    files.say(JSON.stringify(Object.fromEntries(all.map(({ file, findings }) => [file, findings]))));
  else if (shape === 'sarif') files.say(JSON.stringify(sarifLog(all, asked, version), null, 2));
  else files.say(found.length === 0 ? 'Nothing was found.' : `${found.length} found.`);
  return found.some((item) => item.severity === 'error') ? 1 : 0;
}
