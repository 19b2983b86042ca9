import { readdirSync, readFileSync } from 'node:fs';
import { join } from 'node:path';
import ts from 'typescript';

export interface Sentence {
  readonly file: string;
  readonly line: number;
  readonly text: string;
}

const isCode = (name: string): boolean => /\.tsx?$/.test(name) && !/\.test\.tsx?$/.test(name);

/**
 * What the sources of some folders say to people: string literals, templates and texts of JSX with a blank in them, each
 * with its place. O(sources).
 */
export function sentencesIn(folders: readonly string[]): Sentence[] {
  const found: Sentence[] = [];
  for (const folder of folders)
    for (const entry of readdirSync(folder, { recursive: true, withFileTypes: true })) {
      const file = join(entry.parentPath, entry.name);
      if (!entry.isFile() || !isCode(entry.name) || /node_modules|\bdist\b|generated|\btests\b/.test(file)) continue;
      const source = ts.createSourceFile(file, readFileSync(file, 'utf8'), ts.ScriptTarget.Latest, true);
      const visit = (node: ts.Node): void => {
        if (ts.isImportDeclaration(node) || (ts.isJsxAttribute(node) && node.name.getText() === 'className')) return;
        if (
          ts.isStringLiteralLike(node) ||
          ts.isTemplateHead(node) ||
          ts.isTemplateMiddleOrTemplateTail(node) ||
          ts.isJsxText(node)
        ) {
          const text = node.text.replace(/\s+/g, ' ').trim();
          if (text.includes(' '))
            found.push({ file, line: source.getLineAndCharacterOfPosition(node.getStart()).line + 1, text });
        }
        ts.forEachChild(node, visit);
      };
      visit(source);
    }
  return found;
}
