import { valueOfText } from '../document/attributes.ts';
import type { ParameterSpec } from '../document/catalogue.ts';
import type { Json } from '../document/json.ts';
import { isExpression } from '../document/kinds.ts';
import { countIn } from '../group-by.ts';

/** The values that a parameter was seen to have. */
export interface SeenValues {
  /** How many nodes set it. */
  nodes: number;
  /** How many values are of which sort; expressions are none. */
  readonly sorts: Map<Sort, number>;
  from: number | undefined;
  to: number | undefined;
  /** How often each value was seen, by its JSON; no new ones beyond `mostValues`. */
  readonly values: Map<string, number>;
  /** More values were seen than are counted. */
  isOpen: boolean;
  readonly units: Map<string, number>;
}

const plain = ['integer', 'number', 'boolean', 'color', 'vector', 'path', 'text', 'other'] as const;
type Plain = (typeof plain)[number];
/** Text that says something else, as formats without types have it. */
const written = ['written integer', 'written number', 'written boolean', 'measure'] as const;
type Written = (typeof written)[number];
/** What a value may be. */
export const sorts = [...plain, ...written] as const;
type Sort = (typeof sorts)[number];

/** How many values of a parameter are counted apart, and how long their JSON may be. */
const mostValues = 200;
const mostKept = 300;

export const emptyValues = (): SeenValues => ({
  nodes: 0,
  sorts: new Map(),
  from: undefined,
  to: undefined,
  values: new Map(),
  isOpen: false,
  units: new Map(),
});

/** Units as they stand behind numbers and in names (common practice, and the units of SI). */
const units =
  'px mm cm m km in ft deg rad turn s ms min h fps Hz kHz MHz % EV K lx cd W kW V A kg g dB pt em nit stop'.split(' ');
const measure = new RegExp(`^([+-]?(?:\\d+\\.?\\d*|\\.\\d+)(?:e[+-]?\\d+)?)\\s*(${units.join('|')}|°)$`, 'i');

/** A number with its unit, as text of other programs has it; undefined where it is none. */
export function measured(text: string): { readonly value: number; readonly unit: string } | undefined {
  const found = measure.exec(text.trim());
  const value = Number(found?.[1]);
  const unit = found?.[2];
  if (unit === undefined || !Number.isFinite(value)) return undefined;
  return { value, unit: units.find((one) => one.toLowerCase() === unit.toLowerCase()) ?? unit };
}

/** The unit that the name of a parameter ends with, such as `width_px` or `angle [deg]`. */
const unitInName = (name: string): string | undefined => {
  const [, end] = /(?:[_\s]|[[(])([A-Za-z%]+)[\])]?$/.exec(name) ?? [];
  return units.find((unit) => unit.length > 1 && unit.toLowerCase() === end?.toLowerCase());
};

function sortOf(value: Json): Sort {
  if (typeof value === 'boolean') return 'boolean';
  if (typeof value === 'number') return Number.isInteger(value) ? 'integer' : 'number';
  if (Array.isArray(value))
    return value.length > 0 && value.every((part) => typeof part === 'number') ? 'vector' : 'other';
  if (typeof value !== 'string') return 'other';
  // colours are compared in small letters: others have to stay what they are
  if (/^#[0-9a-f]{6}$/.test(value)) return 'color';
  if (measured(value)) return 'measure';
  const said = /^0\d/.test(value.trim()) ? value : valueOfText(value, 'number');
  if (typeof said === 'number') return Number.isInteger(said) ? 'written integer' : 'written number';
  if (/^(?:true|false)$/i.test(value.trim())) return 'written boolean';
  return /^[^\n]*[/\\][^/\\\n]*\.[A-Za-z0-9#%$]{1,8}$/.test(value) ? 'path' : 'text';
}

/** Notes a value, in place. O(1). */
export function addValue(seen: SeenValues, value: Json, unit?: string): void {
  seen.nodes++;
  if (unit !== undefined) countIn(seen.units, unit);
  if (isExpression(value)) return;
  const sort = sortOf(value);
  countIn(seen.sorts, sort);
  const told = sort === 'measure' ? measured(value as string) : undefined;
  if (told) countIn(seen.units, told.unit);
  const said = told?.value ?? numberIn(value);
  for (const number of said !== undefined ? [said] : sort === 'vector' ? (value as number[]) : [])
    widen(seen, number, number);
  const key = JSON.stringify(value);
  if (key.length <= mostKept) countValue(seen, key);
  else seen.isOpen = true;
}

function countValue(seen: SeenValues, key: string, by = 1): void {
  if (seen.values.has(key) || seen.values.size < mostValues) countIn(seen.values, key, by);
  else seen.isOpen = true;
}

function widen(seen: SeenValues, from: number, to: number): void {
  seen.from = Math.min(seen.from ?? from, from);
  seen.to = Math.max(seen.to ?? to, to);
}

/** Adds the values that other nodes had, in place. */
export function mergeValues(into: SeenValues, other: SeenValues): SeenValues {
  into.nodes += other.nodes;
  for (const [sort, count] of other.sorts) countIn(into.sorts, sort, count);
  for (const [unit, count] of other.units) countIn(into.units, unit, count);
  if (other.from !== undefined && other.to !== undefined) widen(into, other.from, other.to);
  for (const [key, count] of other.values) countValue(into, key, count);
  into.isOpen ||= other.isOpen;
  return into;
}

/** How many values of each parameter are told. */
const mostUsual = 5;

/** The values that were seen most, the most frequent first. */
const usualValues = (seen: SeenValues): Json[] =>
  [...seen.values]
    .sort(([, a], [, b]) => b - a)
    .slice(0, mostUsual)
    .map(([key]) => JSON.parse(key) as Json);

/** A text of few values, each seen often, is a choice. */
const mostChoices = 12;

const meant: Readonly<Record<Written, Plain>> = {
  'written integer': 'integer',
  'written number': 'number',
  'written boolean': 'boolean',
  measure: 'number',
};

/** The types that take values of several sorts, the narrowest first. */
const takes: readonly (readonly [ParameterSpec['type'], readonly Sort[]])[] = [
  ['integer', ['integer']],
  ['number', ['integer', 'number']],
  ['boolean', ['boolean']],
  ['color', ['color']],
  ['vector', ['vector']],
  ['path', ['path']],
  ['text', ['text', 'path', 'color', ...written]],
];
const typeFor = (found: readonly Sort[]): ParameterSpec['type'] | undefined =>
  takes.find(([, own]) => found.every((sort) => own.includes(sort)))?.[0];

/** The number that a value is or says, with a unit or without; undefined where it is none. */
function numberIn(value: Json): number | undefined {
  if (typeof value === 'number') return value;
  if (typeof value !== 'string') return undefined;
  const said = measured(value)?.value ?? valueOfText(value, 'number');
  return typeof said === 'number' ? said : undefined;
}

/** A value as a parameter of a type holds it: text that says a number, or yes or no, as that. */
export function storedAs(type: ParameterSpec['type'], value: Json): Json {
  if (type === 'number' || type === 'integer') return numberIn(value) ?? value;
  return type === 'boolean' && typeof value === 'string' ? valueOfText(value, 'boolean') : value;
}

/**
 * A parameter as its values show it, of a kind with so many nodes; undefined where they are of several sorts, and no
 * type takes them all. It has a value of its own only where every node sets one: a node that sets none computes what it
 * did before. `counts` says that numbers with units, which come as text, will be stored as numbers.
 */
export function learnedParameter(
  id: string,
  title: string,
  seen: SeenValues,
  nodes: number,
  counts: boolean,
): ParameterSpec | undefined {
  const found = [...seen.sorts.keys()];
  const asMeant = counts ? typeFor(found.map((sort) => meant[sort as Written] ?? sort)) : undefined;
  const common = found.length === 0 ? 'text' : (asMeant ?? typeFor(found));
  if (common === undefined) return undefined;
  const isChoice =
    common === 'text' &&
    seen.sorts.size === 1 &&
    seen.sorts.has('text') &&
    !seen.isOpen &&
    seen.values.size <= mostChoices &&
    seen.nodes >= 8 &&
    [...seen.values.values()].every((count) => count > 1) &&
    [...seen.values.keys()].every((key) => key.length > 2 && key.length <= 100);
  const type = isChoice ? 'choice' : common;
  const [ownUnit, ...otherUnits] = [...seen.units.keys()];
  const unit = ownUnit === undefined ? unitInName(id) : otherUnits.length === 0 ? ownUnit : undefined;
  const usual = usualValues(seen).map((value) => storedAs(type, value));
  const [most] = usual;
  const isRange = seen.from !== undefined && seen.to !== undefined && type !== 'text';
  return {
    id,
    title,
    type,
    ...(unit !== undefined && type !== 'boolean' && type !== 'color' && { unit }),
    ...(isChoice && { choices: [...seen.values.keys()].map((key) => String(JSON.parse(key))).sort() }),
    default: seen.nodes === nodes && most !== undefined ? most : null,
    main: false,
    cosmetic: false,
    seen: { nodes: seen.nodes, of: nodes, ...(isRange && { from: seen.from, to: seen.to }), usual },
  };
}
