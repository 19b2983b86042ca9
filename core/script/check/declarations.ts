import { z } from 'zod';
import type { ParameterSpec } from '../../document/catalogue.ts';
import type { Kinds } from '../../document/kinds.ts';
import { addTo } from '../../group-by.ts';
import type { Needs } from '../../operation.ts';
import { operations } from '../../operations.ts';
import { rules } from '../../rules/rules.ts';
import { functionName } from '../function-name.ts';

/** What a property of an operation’s options is, as JSON Schema has it. */
export interface OptionShape {
  readonly title?: string;
  readonly description?: string;
  readonly hint?: string;
  readonly unit?: string;
  readonly type?: string;
  readonly enum?: readonly unknown[];
  readonly const?: unknown;
  readonly default?: unknown;
  readonly minimum?: number;
  readonly maximum?: number;
  readonly items?: OptionShape;
  readonly prefixItems?: readonly OptionShape[];
  readonly properties?: Readonly<Record<string, OptionShape>>;
  readonly required?: readonly string[];
  readonly additionalProperties?: OptionShape | boolean;
  readonly anyOf?: readonly OptionShape[];
  readonly oneOf?: readonly OptionShape[];
}

/** The options of an operation by name. */
export const optionsOf = (schema: z.ZodType): OptionShape => z.toJSONSchema(schema, { io: 'input' }) as OptionShape;

/** The type of an option, as TypeScript writes it. O(shape). */
export function typeOf(shape: OptionShape): string {
  if (shape.const !== undefined) return JSON.stringify(shape.const);
  if (shape.enum) return shape.enum.map((one) => JSON.stringify(one)).join(' | ');
  const some = shape.anyOf ?? shape.oneOf;
  if (some) return some.map(typeOf).join(' | ');
  switch (shape.type) {
    case 'number':
    case 'integer':
      return 'number';
    case 'string':
    case 'boolean':
    case 'null':
      return shape.type;
    case 'array':
      return shape.prefixItems
        ? `readonly [${shape.prefixItems.map(typeOf).join(', ')}]`
        : `readonly (${typeOf(shape.items ?? {})})[]`;
    case 'object': {
      const more = typeof shape.additionalProperties === 'object' ? shape.additionalProperties : undefined;
      return shape.properties ? membersOf(shape) : `Readonly<Record<string, ${more ? typeOf(more) : 'unknown'}>>`;
    }
    default:
      return 'ScriptValue';
  }
}

const membersOf = ({ properties = {}, required = [] }: OptionShape): string =>
  `{\n${Object.entries(properties)
    .map(
      ([name, shape]) =>
        `${comment(aboutOption(shape))}readonly ${nameOf(name)}${required.includes(name) ? '' : '?'}: ${typeOf(shape)};`,
    )
    .join('\n')}\n}`;

/** A name of a property, in quotes where it has to be. */
const nameOf = (name: string): string => (/^[A-Za-z_$][\w$]*$/.test(name) ? name : JSON.stringify(name));

/** What is said of an option: its title, hint, range, unit and default. */
export function aboutOption({ title, hint, description, unit, minimum, maximum, default: usual }: OptionShape): string {
  const range = rangeOf(minimum, maximum);
  return [
    title,
    hint ?? description,
    [range, unitBeside(unit, range)].filter(Boolean).join(' '),
    usual === undefined ? '' : `by default ${JSON.stringify(usual)}`,
  ]
    .filter(Boolean)
    .join('; ');
}

// JSON Schema says of whole numbers that they are no larger than JavaScript counts
const isTold = (bound: number | undefined): bound is number =>
  bound !== undefined && Math.abs(bound) < Number.MAX_SAFE_INTEGER;

// a unit such as “0 … 1” is the range itself
const unitBeside = (unit: string | undefined, range: string): string =>
  unit && !/\d/.test(unit) ? unit : range ? '' : (unit ?? '');

function rangeOf(least: number | undefined, most: number | undefined): string {
  if (isTold(least)) return isTold(most) ? `${least} to ${most}` : `from ${least}`;
  return isTold(most) ? `up to ${most}` : '';
}

/** A text as a doc comment that nothing in it can end. */
const comment = (text: string): string => (text === '' ? '' : `/** ${text.replace(/\*\//g, '* /')} */ `);

/** What has to be selected, in words. */
export function aboutNeeds({ what, least, most, all }: Needs): string {
  if (what === 'nothing') return 'Takes no selection.';
  const thing = what === 'nodes' ? 'node' : 'thing';
  const count =
    least === 0
      ? `any ${thing}s`
      : most === least
        ? least === 1
          ? `one ${thing}`
          : `${least} ${thing}s`
        : `at least ${least === 1 ? `one ${thing}` : `${least} ${thing}s`}`;
  return `Takes ${count}${all || least === 0 ? '; none is all of the graph' : ''}.`;
}

const valueTypes: Readonly<Record<ParameterSpec['type'], string>> = {
  number: 'number',
  integer: 'number',
  boolean: 'boolean',
  choice: 'string',
  text: 'string',
  color: 'string',
  path: 'string',
  expression: 'string',
  vector: 'readonly number[]',
};

const valueType = ({ type, choices }: ParameterSpec): string =>
  type === 'choice' && choices ? choices.map((choice) => JSON.stringify(choice)).join(' | ') : valueTypes[type];

/** `Radius: number, 0 to 100 px, by default 8`. */
function aboutParameter({ title, type, unit, min, max, default: usual }: ParameterSpec): string {
  const range = [rangeOf(min, max), unit].filter(Boolean).join(' ');
  return `${title}: ${[type, range, `by default ${JSON.stringify(usual)}`].filter(Boolean).join(', ')}`;
}

/** How many kinds are named where a parameter is told of. */
const mostNamed = 4;

/**
 * What the type checker is told beside the API itself: the kinds and parameters of a catalogue, the operations with
 * their options, and the house rules. `known`: further parameters that nodes of the file have; undefined where the
 * file is not known, so that a parameter may have any name. O(catalogue + registry).
 */
export function declarations(kinds: Kinds, known: readonly string[] | undefined): string {
  const all = kinds.all();
  const specs = new Map<string, { readonly spec: ParameterSpec; readonly kind: string }[]>();
  for (const kind of all) for (const spec of kind.parameters) addTo(specs, spec.id, { spec, kind: kind.title });
  const parameters = [...specs].map(([id, found]) => {
    const types = [...new Set(found.map(({ spec }) => valueType(spec)))].join(' | ');
    const about = [...new Set(found.map(({ spec }) => aboutParameter(spec)))].slice(0, mostNamed).join('. ');
    const named = found.slice(0, mostNamed).map(({ kind }) => kind);
    const rest = found.length - named.length;
    return `${comment(`${about}. In ${named.join(', ')}${rest > 0 ? ` and ${rest} more` : ''}.`)}${JSON.stringify(id)}: ${types};`;
  });
  for (const id of known ?? []) if (!specs.has(id)) parameters.push(`${JSON.stringify(id)}: ScriptValue;`);
  const ofKinds = all.map(
    (kind) =>
      `${comment(`${kind.title}, ${kinds.category(kind.id).title}.`)}${JSON.stringify(kind.id)}: {\n${kind.parameters
        .map((spec) => `${comment(aboutParameter(spec))}${nameOf(spec.id)}: ${valueType(spec)};`)
        .join('\n')}\n};`,
  );
  const shapes = operations.map((one) => ({ one, shape: optionsOf(one.options) }));
  const about = ({ about, needs }: (typeof operations)[number]): string => `${about} ${aboutNeeds(needs)}`;
  return [
    `interface ScriptParameters {\n${parameters.join('\n')}\n}`,
    `interface ScriptKinds {\n${ofKinds.join('\n')}\n}`,
    `interface ScriptOperationOptions {\n${shapes
      .map(({ one, shape }) => `${comment(about(one))}${JSON.stringify(one.id)}: ${membersOf(shape)};`)
      .join('\n')}\n}`,
    `interface ScriptOperations {\n${shapes
      .map(({ one, shape }) => {
        const options = `options${(shape.required ?? []).length > 0 ? '' : '?'}: ScriptOperationOptions[${JSON.stringify(one.id)}]`;
        const things = `things${options.startsWith('options:') ? ': readonly ScriptThing[] | undefined' : '?: readonly ScriptThing[]'}`;
        return `${comment(about(one))}${functionName(one.id)}(${things}, ${options}): ScriptReport;`;
      })
      .join('\n')}\n}`,
    `type ScriptRuleId = ${rules.map((rule) => JSON.stringify(rule.id)).join(' | ')};`,
    // a name that is made while the script runs has the type string, and may be any
    `type AnyParameter<P extends string> = ${known ? 'string extends P ? P : never' : 'P'};`,
    `type AnyKind<K extends string> = ${known ? 'string extends K ? K : never' : 'K'};`,
    'type AnyRule<R extends string> = string extends R ? R : never;',
    'type AnyOperation<O extends string> = string extends O ? O : never;',
    'declare const console: Record<"log" | "info" | "warn" | "error", (...parts: readonly unknown[]) => void>;',
  ].join('\n');
}
