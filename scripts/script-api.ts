// What follows from core/script/api.ts and core/script/model: the model as text for the sandbox, the API as data for
// the editor, and docs/scripting.md.
import { readFileSync } from 'node:fs';
import { fileURLToPath } from 'node:url';
import { must } from '@basitax/core/must';
import type { ApiMember, ApiType } from '@basitax/core/script/api-type';
import { buildSync } from 'esbuild';
import ts from 'typescript';

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
    members: one.members.map((member): ApiMember => {
      const name = (member.name as ts.Identifier).text;
      const isMethod = ts.isMethodSignature(member);
      const type = (member as ts.PropertySignature | ts.MethodSignature).type;
      const isWritable = !isMethod && !(ts.getCombinedModifierFlags(member as never) & ts.ModifierFlags.Readonly);
      return {
        name,
        signature: plain(member).replace(/^readonly /, ''),
        doc: docOf(member),
        gives: type ? plain(type) : 'void',
        isMethod,
        ...(isWritable && { isWritable }),
      };
    }),
  }));
}

/** The API as a module of core, a type a line. */
export const apiModule = (): string =>
  `// Made from core/script/api.ts by npm run docs.\nimport type { ApiType } from '../api-type.ts';\n\nexport const scriptApi: readonly ApiType[] = [\n${apiTypes()
    .map((type) => `  ${JSON.stringify(type)},\n`)
    .join('')}];\n`;

/** What a type checker needs beside a script: the API's own text, and its globals. */
export function apiDeclarations(): string {
  const text = readFileSync(at('core/script/api.ts'), 'utf8').replace(/^export /gm, '');
  const globals = must(apiTypes().find((type) => type.name === 'ScriptGlobals'));
  const rows = globals.members.map(
    (member) => `declare ${member.isMethod ? 'function' : 'const'} ${member.signature};`,
  );
  return `${text}\n${rows.join('\n')}\ndeclare const console: { log(...parts: readonly unknown[]): void };\n`;
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
