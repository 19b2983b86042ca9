import { must } from '@basitax/core/must';
import type { ApiMember, ApiType } from '@basitax/core/script/api-type';
import { scriptApi } from '@basitax/core/script/generated/api';

// What help can be had at a place of a script, from the types of the API alone: completion and hover. No compiler runs
// in the page.

const types = new Map<string, ApiType>(scriptApi.map((type) => [type.name, type]));
const globals = must(types.get('ScriptGlobals'));

/** A type as the API names it, or a list of those. */
interface Shape {
  readonly type: string;
  readonly isList: boolean;
}

/** `readonly ScriptNode[]`, `ScriptNode | undefined` … as a shape; undefined for what is no type of the API. */
function shapeOf(gives: string): Shape | undefined {
  const plain = gives
    .replace(/ \| undefined$/, '')
    .replace(/^readonly /, '')
    .trim();
  if (plain === 'ScriptNodes') return { type: 'ScriptNodes', isList: true };
  const isList = plain.endsWith('[]');
  const type = isList ? plain.slice(0, -2) : plain;
  return types.has(type) ? { type, isList } : undefined;
}

/** One of a list. */
const element = ({ type }: Shape): Shape => ({ type: type === 'ScriptNodes' ? 'ScriptNode' : type, isList: false });

/** All members of a type, with those that it takes over from others. */
export function membersOf(type: string): readonly ApiMember[] {
  const found = types.get(type);
  return found ? [...found.members, ...found.extends.flatMap((base) => membersOf(base))] : [];
}

const memberOf = ({ type, isList }: Shape, name: string): ApiMember | undefined =>
  isList && type !== 'ScriptNodes' ? undefined : membersOf(type).find((member) => member.name === name);

const sameList = new Set(['filter', 'slice', 'sort', 'reverse', 'concat', 'toSorted', 'toReversed']);
const oneOf = new Set(['find', 'at', 'pop', 'shift', 'findLast']);
/** What goes over a list and hands each to a function. */
const overList = 'map|forEach|filter|find|findLast|some|every|flatMap|sort';

const word = '[A-Za-z_$][\\w$]*';
// calls and indexes one deep suffice for chains as people write them
const link = `(?:\\??\\.${word}|!|\\((?:[^()]|\\([^()]*\\))*\\)|\\[[^\\[\\]]*\\])`;
const chain = `${word}${link}*`;

/** The parts of a chain such as `graph.nodes[0].inputs`. */
function partsOf(text: string): string[] {
  return text.match(new RegExp(`${word}|\\((?:[^()]|\\([^()]*\\))*\\)|\\[[^\\[\\]]*\\]`, 'g')) ?? [];
}

/**
 * What a chain of names, calls and indexes gives, as far as that can be known. `before` is the script up to there:
 * where names are declared.
 */
function shapeAt(text: string, before: string, depth = 0): Shape | undefined {
  if (depth > 8) return undefined;
  const [first, ...rest] = partsOf(text);
  if (first === undefined) return undefined;
  let shape =
    declared(first, before, depth) ?? shapeOf(globals.members.find((member) => member.name === first)?.gives ?? '');
  for (const part of rest) {
    if (!shape) return undefined;
    // a call gives what the member before it says it gives
    if (part.startsWith('(')) continue;
    if (part.startsWith('[')) shape = shape.isList ? element(shape) : undefined;
    else if (shape.isList && sameList.has(part)) shape = { type: element(shape).type, isList: true };
    else if (shape.isList && oneOf.has(part)) shape = element(shape);
    else shape = shapeOf(memberOf(shape, part)?.gives ?? '');
  }
  return shape;
}

/** What a name stands for, by the last place that declares it. */
function declared(name: string, before: string, depth: number): Shape | undefined {
  const own = name.replace(/\$/g, '\\$');
  const found: { at: number; shape: Shape | undefined }[] = [];
  const look = (pattern: string, take: (match: RegExpMatchArray) => Shape | undefined): void => {
    for (const match of before.matchAll(new RegExp(pattern, 'g'))) found.push({ at: match.index, shape: take(match) });
  };
  const of = (match: RegExpMatchArray): Shape | undefined =>
    shapeAt(must(match[1]), before.slice(0, match.index), depth + 1);
  look(`(?:const|let|var) ${own}\\s*:\\s*([\\w\\[\\] |]+?)\\s*=`, (match) => shapeOf(must(match[1])));
  look(`(?:const|let|var) ${own}\\s*=\\s*(${chain})`, of);
  look(`for \\((?:const|let) ${own} of (${chain})\\)`, (match) => {
    const shape = of(match);
    return shape && element(shape);
  });
  look(`(${chain})\\.(?:${overList})\\(\\s*\\(?\\s*${own}\\b(?=[^()]*\\)?\\s*=>)`, (match) => {
    const shape = of(match);
    return shape && element(shape);
  });
  return found.sort((a, b) => b.at - a.at)[0]?.shape;
}

/** What may be written at a place. */
export interface Offer {
  /** Where the word that is being written begins. */
  readonly from: number;
  readonly what:
    | { readonly kind: 'members'; readonly members: readonly ApiMember[] }
    | { readonly kind: 'parameters' | 'operations' | 'kinds' };
}

const inQuotes: readonly (readonly [RegExp, 'parameters' | 'operations' | 'kinds'])[] = [
  [/\.(?:get|set|has|isSet|reset|having)\(\s*(['"])([\w.]*)$/, 'parameters'],
  [/\brun\(\s*(['"])([\w-]*)$/, 'operations'],
  [/\.(?:add|become)\(\s*(['"])([\w.-]*)$/, 'kinds'],
];

/** What is offered at the end of a text; undefined where nothing is known. */
export function offerAt(before: string): Offer | undefined {
  const line = before.slice(before.lastIndexOf('\n') + 1);
  for (const [pattern, kind] of inQuotes) {
    const match = pattern.exec(line);
    if (match) return { from: before.length - must(match[2]).length, what: { kind } };
  }
  // neither in other quotes nor in a comment
  if (/\/\//.test(line) || (line.match(/['"`]/g)?.length ?? 0) % 2 === 1) return undefined;
  const dotted = new RegExp(`(${chain})\\??\\.([\\w$]*)$`).exec(before);
  if (dotted) {
    const shape = shapeAt(must(dotted[1]), before);
    if (!shape || (shape.isList && shape.type !== 'ScriptNodes')) return undefined;
    return { from: before.length - must(dotted[2]).length, what: { kind: 'members', members: membersOf(shape.type) } };
  }
  const start = /(?:^|[^\w$.])([A-Za-z_$][\w$]*)$/.exec(before);
  return start
    ? { from: before.length - must(start[1]).length, what: { kind: 'members', members: globals.members } }
    : undefined;
}

/** The member that the word over `at` stands for; undefined where that is none of the API. */
export function helpAt(
  text: string,
  at: number,
): { readonly from: number; readonly to: number; readonly member: ApiMember } | undefined {
  const from = at - (/[\w$]*$/.exec(text.slice(0, at))?.[0].length ?? 0);
  const to = at + (/^[\w$]*/.exec(text.slice(at))?.[0].length ?? 0);
  const name = text.slice(from, to);
  if (name === '') return undefined;
  const offer = offerAt(text.slice(0, to));
  const members = offer?.what.kind === 'members' ? offer.what.members : [];
  const member = members.find((one) => one.name === name);
  return member && offer?.from === from ? { from, to, member } : undefined;
}
