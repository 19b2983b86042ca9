import { delimiterOf, rowsOf } from './delimited.ts';
import type { FormatId } from './endings.ts';

/** How much of a text is looked at. */
const seen = 100_000;

/** The names of the fields of the outermost object of JSON, as far as they are seen, with what their values begin with. */
function fieldsOf(text: string): Map<string, string> {
  const fields = new Map<string, string>();
  const token = /"((?:\\.|[^"\\])*)"\s*(:\s*([^\s]))?|[{}[\]]/g;
  let depth = 0;
  for (let found = token.exec(text); found; found = token.exec(text)) {
    const [part, name, colon, value] = found;
    if (part === '{' || part === '[') depth++;
    else if (part === '}' || part === ']') depth--;
    else if (depth === 1 && colon && name !== undefined) {
      fields.set(name, value ?? '');
      // the value is looked at by itself
      if (value === '{' || value === '[' || value === '"') token.lastIndex--;
    } else if (colon && (value === '{' || value === '[' || value === '"')) token.lastIndex--;
  }
  return fields;
}

function ofJson(text: string): FormatId | undefined {
  const fields = fieldsOf(text);
  if (fields.get('format') === '"' && /"format"\s*:\s*"basitax-graph"/.test(text)) return 'json';
  // its links may stand behind more nodes than are looked at
  if (fields.get('nodes') === '[') return 'nodelink';
  if (fields.get('graph') === '{' || fields.has('graphs')) return 'jgf';
  return undefined;
}

const xmlRoots: Readonly<Record<string, FormatId>> = {
  graphml: 'graphml',
  gexf: 'gexf',
  materialx: 'materialx',
  svg: 'svg',
};

/**
 * What a text is, by what it holds; undefined where nothing in it says so. Only its beginning is looked at. O(1).
 */
export function formatOfText(whole: string): FormatId | undefined {
  const text = whole
    .slice(0, seen)
    .replace(/^\uFEFF/, '')
    .trimStart();
  if (text.startsWith('<')) {
    const root = /<(?:[\w.-]+:)?([\w.-]+)/.exec(
      text.replace(/<!--[\s\S]*?-->|<\?[\s\S]*?\?>|<!DOCTYPE[^>[]*(?:\[[^\]]*\])?[^>]*>/gi, ''),
    );
    return xmlRoots[root?.[1]?.toLowerCase() ?? ''];
  }
  if (text.startsWith('{')) return ofJson(text);
  const bare = text
    .replace(/^---\r?\n[\s\S]*?\r?\n---[ \t]*\r?\n/, '')
    .replace(/^(?:\s*(?:(?:%%|\/\/|#)[^\n]*(?:\n|$)|\/\*[\s\S]*?\*\/))+/g, '')
    .trimStart();
  if (/^(?:flowchart(?:-elk)?|graph)\s+(?:TB|TD|BT|LR|RL)\b/.test(bare)) return 'mermaid';
  if (/^(?:flowchart|sequenceDiagram|classDiagram|stateDiagram|erDiagram|gantt|mindmap|gitGraph)\b/.test(bare))
    return 'mermaid';
  if (
    /^(?:strict\s+)?(?:di)?graph\b\s*(?:"(?:\\.|[^"\\])*"|<[^{]*>|[^\s{"<]+)?\s*\{/i.test(
      bare.replace(/\/\*[\s\S]*?\*\//g, ' '),
    )
  )
    return 'dot';
  if (/^(?:[A-Za-z]\w*\s+(?:"[^"]*"|[-\d.]+)\s+)*graph\s*\[/i.test(bare)) return 'gml';
  if (/^(?:---\s*\n)?(?:[\w-]+:[^\n]*\n){0,40}?format:\s*["']?basitax-graph/.test(text)) return 'yaml';
  return undefined;
}

/** Does a text of no known name look like a table? O(1). */
export function looksLikeTable(whole: string): boolean {
  const text = whole.slice(0, 5000);
  const rows = rowsOf(text.length < whole.length ? text.slice(0, text.lastIndexOf('\n') + 1) : text, delimiterOf(text));
  const width = rows[0]?.cells.length ?? 0;
  return width > 1 && rows.length > 1 && rows.every(({ cells }) => cells.length === width);
}
