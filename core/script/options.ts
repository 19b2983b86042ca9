import { z } from 'zod';
import type { Json } from '../document/json.ts';
import { refuse } from './sentences.ts';

export const optionTypes = ['number', 'integer', 'yes or no', 'text', 'choice', 'color', 'kind', 'query'] as const;

const optionShape = z.object({
  type: z.enum(optionTypes),
  default: z.union([z.string().max(10_000), z.number(), z.boolean()]),
  title: z.string().max(200).optional(),
  hint: z.string().max(500).optional(),
  unit: z.string().max(30).optional(),
  min: z.number().optional(),
  max: z.number().optional(),
  choices: z.array(z.string().max(200)).min(1).max(200).optional(),
});
export type ScriptOptionSpec = z.infer<typeof optionShape>;

/** An option as a script declares it. */
export const scriptOptionSchema = optionShape
  .refine((option) => option.type !== 'choice' || option.choices !== undefined, 'a choice needs choices')
  .refine((option) => valueSchema(option).safeParse(option.default).success, 'the default does not fit the option');

export const scriptOptionsSchema = z
  .record(z.string().regex(/^[A-Za-z][A-Za-z0-9_]{0,59}$/, 'is not a name of an option'), scriptOptionSchema)
  .refine((declared) => Object.keys(declared).length <= 50, 'at most 50 options');
export type ScriptOptions = Readonly<Record<string, ScriptOptionSpec>>;

/** The values that a script is given by name. */
export type ScriptValues = Readonly<Record<string, Json>>;

function valueSchema(option: Pick<ScriptOptionSpec, 'type' | 'min' | 'max' | 'choices'>): z.ZodType {
  switch (option.type) {
    case 'number':
    case 'integer': {
      const number = option.type === 'integer' ? z.int() : z.number();
      return number.min(option.min ?? Number.MIN_SAFE_INTEGER).max(option.max ?? Number.MAX_SAFE_INTEGER);
    }
    case 'yes or no':
      return z.boolean();
    case 'choice':
      return z.enum((option.choices ?? ['']) as [string, ...string[]]);
    case 'color':
      return z.string().regex(/^(#[0-9a-fA-F]{6})?$/, 'is not a colour such as #2f6f8f');
    default:
      return z.string().max(10_000);
  }
}

const titleOf = (name: string, option: ScriptOptionSpec): string => option.title || name;

/** Reads what a script declared. Throws Refused with the option that is wrong. */
export function readDeclared(raw: unknown): ScriptOptions {
  const parsed = scriptOptionsSchema.safeParse(raw);
  if (parsed.success) return parsed.data;
  const issue = parsed.error.issues[0];
  throw refuse('bad-options', { what: issue?.path.join('.'), issue: issue?.message });
}

/**
 * The values that count: those given, else the defaults. Throws Refused on one that is not declared or does not fit.
 */
export function optionValues(declared: ScriptOptions, given: ScriptValues): ScriptValues {
  for (const name of Object.keys(given))
    if (!Object.hasOwn(declared, name)) {
      const names = Object.keys(declared);
      throw refuse('no-option', { name, names });
    }
  return Object.fromEntries(
    Object.entries(declared).map(([name, option]) => {
      const value = given[name] ?? option.default;
      const checked = valueSchema(option).safeParse(value);
      if (!checked.success)
        throw refuse('option-type', {
          name: titleOf(name, option),
          option: expected(option),
          value: JSON.stringify(value),
        });
      return [name, value];
    }),
  );
}

function expected(option: ScriptOptionSpec): string {
  const range =
    option.min !== undefined || option.max !== undefined ? ` from ${option.min ?? '−∞'} to ${option.max ?? '∞'}` : '';
  switch (option.type) {
    case 'number':
      return `a number${range}`;
    case 'integer':
      return `a whole number${range}`;
    case 'yes or no':
      return 'yes or no';
    case 'choice':
      return `one of ${option.choices?.join(', ')}`;
    case 'color':
      return 'a colour such as #2f6f8f';
    default:
      return 'text';
  }
}

/**
 * A value as it stands on a command line, read by the type of its option: `--option amount=2.5`. Throws Refused where
 * it does not fit.
 */
export function valueFromText(declared: ScriptOptions, name: string, text: string): Json {
  const option = declared[name];
  if (option?.type === 'number' || option?.type === 'integer') {
    const number = text.trim() === '' ? Number.NaN : Number(text);
    if (Number.isNaN(number))
      throw refuse('option-text', { name: titleOf(name, option), option: expected(option), text });
    return number;
  }
  if (option?.type !== 'yes or no') return text;
  if (/^(yes|true|1)$/i.test(text)) return true;
  if (/^(no|false|0)$/i.test(text)) return false;
  throw refuse('option-yes-or-no', { name: titleOf(name, option), text });
}
