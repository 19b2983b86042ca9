import type { ScriptNode } from '../api.ts';
import type { LogTree } from '../requests.ts';

// Runs inside the sandbox: what is logged, as a line of text and opened out.

/** How deep and how wide a value is opened out, and how many values in all. */
const [deepest, widest, most] = [5, 100, 1000];

const isNode = (value: unknown): value is ScriptNode =>
  typeof value === 'object' && value !== null && 'kindTitle' in value;

const nodeText = (node: ScriptNode): string => `“${node.label || node.name}”`;

/** What is logged, as people would write it down. */
export function shown(part: unknown): string {
  if (typeof part === 'string') return part;
  if (part === undefined) return 'undefined';
  if (isNode(part)) return nodeText(part);
  if (part instanceof Error) return `${part.name}: ${part.message}`;
  try {
    return (
      JSON.stringify(part, (key, value) => (key !== '' && isNode(value) ? value.name : (value as unknown))) ??
      String(part)
    );
  } catch (error) {
    return `${String(part)} (${(error as Error).message})`;
  }
}

/** The same, opened out; undefined where there is nothing to open. */
export function treesOf(parts: readonly unknown[]): LogTree[] | undefined {
  if (!parts.some((part) => typeof part === 'object' && part !== null && !(part instanceof Error))) return undefined;
  let left = most;
  const treeOf = (value: unknown, depth: number): LogTree => {
    left--;
    if (isNode(value)) return { is: 'node', id: value.id, text: nodeText(value) };
    if (typeof value !== 'object' || value === null || value instanceof Error)
      return { is: 'value', text: typeof value === 'string' && depth > 0 ? JSON.stringify(value) : shown(value) };
    const isList = Array.isArray(value);
    const entries = value instanceof Map ? [...value].map(([key, one]) => [shown(key), one] as const) : fieldsOf(value);
    if (entries.length === 0) return { is: 'value', text: isList ? 'empty list' : 'empty object' };
    const text = isList
      ? `list of ${entries.length}`
      : `${entries.length} ${entries.length === 1 ? 'field' : 'fields'}`;
    const room = depth >= deepest ? 0 : Math.min(widest, Math.max(0, left));
    const parts = entries.slice(0, room).map(([key, one]) => [key, treeOf(one, depth + 1)] as const);
    return { is: isList ? 'list' : 'object', text, parts, more: entries.length - parts.length };
  };
  return parts.slice(0, 50).map((part) => treeOf(part, 0));
}

/** What can be seen of an object, without what throws when it is looked at. */
function fieldsOf(value: object): (readonly [string, unknown])[] {
  return Object.keys(value).map((key) => {
    try {
      return [key, (value as Record<string, unknown>)[key]] as const;
    } catch (error) {
      return [key, error] as const;
    }
  });
}
