// What follows from core/script/api.ts and core/script/model: the model as text for the sandbox, the API as data for
// the editor, and docs/scripting.md.
import { readFileSync } from 'node:fs';
import { fileURLToPath } from 'node:url';
import { must } from '@basitax/core/must';
import { buildSync } from 'esbuild';
import ts from 'typescript';

/** A member of the script API, as its page shows it. */
interface ApiMember {
  readonly name: string;
  /** As it is written in TypeScript. */
  readonly signature: string;
  readonly doc: string;
  readonly isWritable: boolean;
}

interface ApiType {
  readonly name: string;
  readonly doc: string;
  readonly extends: readonly string[];
  readonly members: readonly ApiMember[];
}

const at = (path: string): string => fileURLToPath(new URL(`../${path}`, import.meta.url));

/** core/script/model as one piece of plain JavaScript, in a module of core that every place can load. */
export function modelModule(): string {
  const built = buildSync({
    entryPoints: [at('core/script/model/main.ts')],
    bundle: true,
    write: false,
    format: 'iife',
    target: 'es2022',
    minifyWhitespace: false,
    legalComments: 'none',
  });
  const text = must(built.outputFiles[0]).text.replace(/^\s*\/\/ .*\n/gm, '');
  return `// Made from core/script/model by npm run docs.\nexport const modelSource: string = ${JSON.stringify(text)};\n`;
}

/** Some members have no name: what is indexed. */
const isNamed = (member: ts.TypeElement): boolean => member.name !== undefined;

/** Every interface of the API, read from its source. */
export function apiTypes(): ApiType[] {
  const text = readFileSync(at('core/script/api.ts'), 'utf8');
  const source = ts.createSourceFile('api.ts', text, ts.ScriptTarget.ES2023, true);
  const docOf = (node: ts.Node): string =>
    ts
      .getJSDocCommentsAndTags(node)
      .map((one) => ts.getTextOfJSDocComment((one as ts.JSDoc).comment) ?? '')
      .join(' ')
      .trim();
  const plain = (node: ts.Node): string =>
    node
      .getText(source)
      .replace(/\/\*\*[\s\S]*?\*\//g, '')
      .replace(/\s+/g, ' ')
      .replace(/;$/, '')
      .trim();
  return source.statements.filter(ts.isInterfaceDeclaration).map((one) => ({
    name: one.name.text,
    doc: docOf(one),
    extends: (one.heritageClauses ?? []).flatMap((clause) => clause.types.map((type) => type.getText(source))),
    members: one.members.filter(isNamed).map((member): ApiMember => {
      const name = (member.name as ts.Identifier).text;
      const isMethod = ts.isMethodSignature(member);
      const isWritable = !isMethod && !(ts.getCombinedModifierFlags(member as never) & ts.ModifierFlags.Readonly);
      return {
        name,
        signature: plain(member).replace(/^readonly /, ''),
        doc: docOf(member),
        isWritable,
      };
    }),
  }));
}

/**
 * Members whose types follow from the catalogue: what the type checker is given in their place. A name that is written
 * out has to be known; one that is made while the script runs may be any.
 */
const typed: Readonly<Record<string, readonly string[]>> = {
  'ScriptNode.get': [
    'get<P extends keyof ScriptParameters>(parameter: P): ScriptParameters[P] | undefined',
    'get<P extends string>(parameter: AnyParameter<P>): any',
  ],
  'ScriptNode.set': [
    'set<P extends keyof ScriptParameters>(parameter: P, value: ScriptParameters[P], how?: ScriptSet): boolean',
    'set<P extends string>(parameter: AnyParameter<P>, value: ScriptValue, how?: ScriptSet): boolean',
  ],
  'ScriptNodes.set': [
    'set<P extends keyof ScriptParameters>(parameter: P, value: ScriptParameters[P], how?: ScriptSet): number',
    'set<P extends string>(parameter: AnyParameter<P>, value: ScriptValue, how?: ScriptSet): number',
  ],
  ...Object.fromEntries(
    [
      ['ScriptNode.has', 'boolean'],
      ['ScriptNode.isSet', 'boolean'],
      ['ScriptNode.reset', 'boolean'],
      ['ScriptNode.parameter', 'ScriptNodeParameter | undefined'],
      ['ScriptNodes.having', 'ScriptNodes'],
    ].map(([member = '', gives]) => {
      const name = member.slice(member.indexOf('.') + 1);
      return [
        member,
        [
          `${name}(parameter: keyof ScriptParameters): ${gives}`,
          `${name}<P extends string>(parameter: AnyParameter<P>): ${gives}`,
        ],
      ];
    }),
  ),
  'ScriptNode.become': [
    'become(kind: keyof ScriptKinds): ScriptReport',
    'become<K extends string>(kind: AnyKind<K>): ScriptReport',
  ],
  'ScriptCatalogue.kind': [
    'kind(id: keyof ScriptKinds): ScriptKind',
    'kind<K extends string>(id: AnyKind<K>): ScriptKind | undefined',
  ],
  'ScriptGraph.add': [
    'add<K extends keyof ScriptKinds>(kind: K, given?: ScriptNewNode & { readonly parameters?: Partial<ScriptKinds[K]> }): ScriptNode',
    'add<K extends string>(kind: AnyKind<K>, given?: ScriptNewNode & { readonly parameters?: Readonly<Record<string, ScriptValue>> }): ScriptNode',
  ],
  'ScriptGlobals.run': [
    'run<O extends keyof ScriptOperationOptions>(operation: O, things?: readonly ScriptThing[], options?: ScriptOperationOptions[O]): ScriptReport',
    'run<O extends string>(operation: AnyOperation<O>, things?: readonly ScriptThing[], options?: Readonly<Record<string, unknown>>): ScriptReport',
  ],
  'ScriptNodes.run': [
    'run<O extends keyof ScriptOperationOptions>(operation: O, options?: ScriptOperationOptions[O]): ScriptReport',
    'run<O extends string>(operation: AnyOperation<O>, options?: Readonly<Record<string, unknown>>): ScriptReport',
  ],
  'ScriptFile.findings': [
    'findings(...rules: readonly ScriptRuleId[]): readonly ScriptFinding[]',
    'findings<R extends string>(...rules: readonly AnyRule<R>[]): readonly ScriptFinding[]',
  ],
  'ScriptResult.result': ['readonly result: any'],
  'ScriptNode.kind': ['readonly kind: keyof ScriptKinds | (string & {})'],
};

/** The API's own text for the type checker, without what follows from a catalogue. */
function apiText(): string {
  const text = readFileSync(at('core/script/api.ts'), 'utf8');
  const source = ts.createSourceFile('api.ts', text, ts.ScriptTarget.ES2023, true);
  const unused = new Set(Object.keys(typed));
  const parts: string[] = [];
  for (const statement of source.statements) {
    if (!ts.isInterfaceDeclaration(statement)) {
      parts.push(statement.getFullText(source).replace(/^export /gm, ''));
      continue;
    }
    const { name, members, heritageClauses = [] } = statement;
    // its members are the operations, which the registry has
    if (name.text === 'ScriptOperations') continue;
    const isGlobal = name.text === 'ScriptGlobals';
    const rows = members.flatMap((member) => {
      const key = `${name.text}.${(member.name as ts.Identifier).text}`;
      unused.delete(key);
      const doc = text.slice(member.getFullStart(), member.getStart(source));
      const own = member.getText(source).replace(/;$/, '');
      return (typed[key] ?? [own]).map((signature) => {
        const global = signature.replace(/^readonly /, '');
        return `${doc}${isGlobal ? `declare ${ts.isMethodSignature(member) ? 'function' : 'const'} ${global}` : signature};`;
      });
    });
    const doc = text.slice(statement.getFullStart(), statement.getStart(source));
    const bases = heritageClauses.map((clause) => ` ${clause.getText(source)}`).join('');
    parts.push(isGlobal ? rows.join('\n') : `${doc}interface ${name.text}${bases} {${rows.join('')}\n}`);
  }
  const [stale] = unused;
  if (stale !== undefined) throw new Error(`core/script/api.ts has no ${stale}, which scripts/script-api.ts types.`);
  return `${parts.join('\n').trim()}\n`;
}

/** The API as a module of core, for the type checker. */
export const apiModule = (): string =>
  `// Made from core/script/api.ts by npm run docs.\nexport const apiText: string = ${JSON.stringify(apiText())};\n`;

/** What of the language a script has no use for: it runs alone, and QuickJS brings no Intl. */
const withoutLibs = /sharedmemory|atomics|\.intl|decorators|scripthost|esnext/;

/** TypeScript's own declarations of the language, as one text without its comments, for the type checker. */
export function libModule(): string {
  const printer = ts.createPrinter({ removeComments: true });
  const seen = new Set<string>();
  const parts: string[] = [];
  const read = (name: string): void => {
    if (seen.has(name) || withoutLibs.test(name)) return;
    seen.add(name);
    const text = readFileSync(at(`node_modules/typescript/lib/lib.${name}.d.ts`), 'utf8');
    const source = ts.createSourceFile(name, text, ts.ScriptTarget.ES2023, true);
    for (const { fileName } of source.libReferenceDirectives) read(fileName);
    parts.push(printer.printFile(source).replace(/^\/\/\/.*\n/gm, ''));
  };
  read('es2023');
  return `// Made from TypeScript's own declarations by npm run docs.\nexport const libText: string = ${JSON.stringify(parts.join(''))};\n`;
}

const titleOf = (name: string): string =>
  name === 'ScriptGlobals' ? 'At the top of every script' : name.replace(/^Script/, '');

/** The part of docs/scripting.md that follows from the types. */
export function apiPage(): string {
  const escaped = (text: string): string => text.replace(/\|/g, '\\|');
  return apiTypes()
    .flatMap((type) => [
      `### ${titleOf(type.name)}`,
      '',
      type.doc,
      '',
      ...(type.name === 'ScriptGlobals'
        ? []
        : [`\`${type.name}\`${type.extends.length > 0 ? `, with all of \`${type.extends.join('`, `')}\`` : ''}`, '']),
      '| | |',
      '|---|---|',
      ...type.members.map(
        (member) =>
          `| \`${escaped(member.signature)}\` | ${escaped(member.doc)}${member.isWritable ? ' *May be set.*' : ''} |`,
      ),
      '',
    ])
    .join('\n');
}
