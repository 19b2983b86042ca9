import type TypeScript from 'typescript';
import { must } from '../../must.ts';
import { say } from '../sentences.ts';

type Ts = typeof TypeScript;

/** What the types of the API are called in sentences. */
const called: Readonly<Record<string, string>> = {
  ScriptNode: 'A node',
  ScriptNodes: 'A list of nodes',
  ScriptGraph: 'A graph',
  ScriptFile: 'The file',
  ScriptFrame: 'A frame',
  ScriptNote: 'A note',
  ScriptWire: 'A wire',
  ScriptPort: 'A port',
  ScriptNodeSet: 'A set',
  ScriptReport: 'A report',
  ScriptCatalogue: 'The catalogue',
  ScriptKind: 'A kind',
  ScriptAssets: 'The asset store',
  ScriptFinding: 'A finding',
  ScriptNodeParameter: 'A parameter',
  ScriptParameter: 'A parameter',
  ScriptMeasures: 'What is measured',
  ScriptOperations: 'The registry of operations',
};

/**
 * What TypeScript found, as a sentence: slips of the pen in the words that a running script would be told in, all else
 * as TypeScript says it.
 */
export function told(
  ts: Ts,
  checker: TypeScript.TypeChecker,
  file: TypeScript.SourceFile,
  found: TypeScript.Diagnostic,
): string {
  const node = nodeAt(ts, file, found.start ?? 0, found.length ?? 1);
  return (node && slip(ts, checker, node, found.code)) ?? asTypeScriptSays(ts, found);
}

/** The smallest part of the script that covers a place. */
export function nodeAt(
  ts: Ts,
  file: TypeScript.SourceFile,
  start: number,
  length: number,
): TypeScript.Node | undefined {
  const look = (node: TypeScript.Node): TypeScript.Node | undefined => {
    if (start < node.getStart(file) || start + length > node.getEnd()) return undefined;
    return ts.forEachChild(node, look) ?? node;
  };
  return look(file);
}

/** TypeScript’s numbers of what is told in our own words; TypeScript gives them no names that a program may use. */
const codes: Readonly<Record<'property' | 'option' | 'name' | 'value' | 'waiting', readonly number[]>> = {
  // does not exist on the type, without and with a word that is near
  property: [2339, 2551],
  // an object written out may hold only what is known
  option: [2353, 2561],
  // cannot find the name
  name: [2304, 2552],
  // not assignable to the parameter, no overload fits, not assignable to the type
  value: [2345, 2769, 2322],
  // await outside an async function or a module
  waiting: [1308, 1375, 1378, 2524],
};

function slip(ts: Ts, checker: TypeScript.TypeChecker, node: TypeScript.Node, code: number): string | undefined {
  if (codes.property.includes(code)) return lackingProperty(ts, checker, node);
  if (codes.option.includes(code)) return unknownOption(ts, checker, node);
  if (codes.name.includes(code)) return unknownName(ts, checker, node);
  if (codes.value.includes(code)) return unknownWord(ts, checker, node) ?? unknownChoice(ts, checker, node);
  return codes.waiting.includes(code) ? say('awaits').message : undefined;
}

const namesOf = (checker: TypeScript.TypeChecker, type: TypeScript.Type): string[] =>
  checker.getPropertiesOfType(type).map((one) => one.name);

function lackingProperty(ts: Ts, checker: TypeScript.TypeChecker, node: TypeScript.Node): string | undefined {
  const access = node.parent;
  if (!ts.isPropertyAccessExpression(access)) return undefined;
  const type = checker.getTypeAtLocation(access.expression);
  const what = called[type.symbol?.name ?? ''] ?? called[type.aliasSymbol?.name ?? ''];
  if (what === undefined) return undefined;
  const name = access.name.text;
  return say('no-member', { what, name, known: namesOf(checker, type) }).message;
}

function unknownOption(ts: Ts, checker: TypeScript.TypeChecker, node: TypeScript.Node): string | undefined {
  const property =
    ts.isPropertyAssignment(node.parent) || ts.isShorthandPropertyAssignment(node.parent) ? node.parent : undefined;
  if (!property) return undefined;
  const type = checker.getContextualType(property.parent);
  if (!type) return undefined;
  return say('unknown-property', {
    name: property.name.getText(),
    known: namesOf(checker, checker.getNonNullableType(type)),
  }).message;
}

function unknownName(ts: Ts, checker: TypeScript.TypeChecker, node: TypeScript.Node): string | undefined {
  if (!ts.isIdentifier(node)) return undefined;
  const known = checker
    .getSymbolsInScope(node, ts.SymbolFlags.Value)
    .map((one) => one.name)
    .filter((name) => !/^[A-Z]/.test(name));
  return say('unknown-name', { name: node.text, known }).message;
}

/** Something that a call names in quotes: a parameter, kind or operation, and where its like are listed. */
export interface Named {
  readonly what: 'parameter' | 'kind' | 'operation';
  readonly method: string;
  readonly call: TypeScript.CallExpression;
  readonly literal: TypeScript.StringLiteralLike;
  readonly all: TypeScript.Type;
}

/** The methods that take the name of something, and the interface that has all of its like. */
const takers: Readonly<Record<string, readonly [what: Named['what'], map: string]>> = {
  ...Object.fromEntries(
    ['get', 'set', 'has', 'isSet', 'reset', 'parameter', 'having'].map((name) => [
      name,
      ['parameter', 'ScriptParameters'] as const,
    ]),
  ),
  add: ['kind', 'ScriptKinds'],
  become: ['kind', 'ScriptKinds'],
  kind: ['kind', 'ScriptKinds'],
  run: ['operation', 'ScriptOperationOptions'],
};

/** What the call around a place names in quotes. */
export function namedAround(ts: Ts, checker: TypeScript.TypeChecker, node: TypeScript.Node): Named | undefined {
  let call = node;
  while (call.parent && !ts.isCallExpression(call)) call = call.parent;
  if (!ts.isCallExpression(call)) return undefined;
  const method = ts.isPropertyAccessExpression(call.expression) ? call.expression.name.text : call.expression.getText();
  const taker = Object.hasOwn(takers, method) ? takers[method] : undefined;
  const literal = call.arguments[0];
  if (!taker || !literal || !ts.isStringLiteralLike(literal)) return undefined;
  const symbol = checker.resolveName(taker[1], call, ts.SymbolFlags.Type, false);
  return symbol && { what: taker[0], method, call, literal, all: checker.getDeclaredTypeOfSymbol(symbol) };
}

/** A name in quotes that nothing has, or what does not fit that which has the name. */
function unknownWord(ts: Ts, checker: TypeScript.TypeChecker, node: TypeScript.Node): string | undefined {
  const named = namedAround(ts, checker, node);
  if (!named) return undefined;
  const { what, method, call, literal, all } = named;
  const known = namesOf(checker, all);
  if (!known.includes(literal.text)) return say('unknown-word', { what, name: literal.text, known }).message;
  const own = checker.getTypeOfSymbol(must(all.getProperty(literal.text)));
  const [, second] = call.arguments;
  if (method === 'set' && second)
    return say('value-of-wrong-type', {
      parameter: literal.text,
      wanted: checker.typeToString(own),
      given: checker.typeToString(checker.getTypeAtLocation(second)),
    }).message;
  const last = call.arguments.at(-1);
  if (!last || !ts.isObjectLiteralExpression(last)) return undefined;
  if (method === 'run') return stranger(last, namesOf(checker, own));
  const given = last.properties.find((one) => one.name?.getText() === 'parameters');
  return method === 'add' && given && ts.isPropertyAssignment(given) && ts.isObjectLiteralExpression(given.initializer)
    ? stranger(given.initializer, namesOf(checker, own))
    : undefined;
}

/** A property that is written out and not among those that may be. */
function stranger(given: TypeScript.ObjectLiteralExpression, known: readonly string[]): string | undefined {
  const found = given.properties.find((one) => one.name && !known.includes(one.name.getText().replace(/['"]/g, '')));
  return found?.name && say('unknown-property', { name: found.name.getText(), known }).message;
}

/** A word in quotes where only some may stand. */
function unknownChoice(ts: Ts, checker: TypeScript.TypeChecker, node: TypeScript.Node): string | undefined {
  if (!ts.isStringLiteralLike(node)) return undefined;
  const wanted = checker.getContextualType(node);
  const known = wanted?.isUnion() ? wanted.types.flatMap((type) => (type.isStringLiteral() ? [type.value] : [])) : [];
  return known.length > 0 && !known.includes(node.text)
    ? say('unknown-choice', { name: node.text, known }).message
    : undefined;
}

/** TypeScript's own words: the last part of a chain is the reason, and says more than the first. */
function asTypeScriptSays(ts: Ts, { messageText }: TypeScript.Diagnostic): string {
  const text = ts.flattenDiagnosticMessageText(messageText, '\n').split('\n')[0] ?? '';
  const plain = text.replace(/'([^']*)'/g, '“$1”');
  return /[.!?]$/.test(plain) ? plain : `${plain}.`;
}
