import { attributesIn, attributesOf } from './attributes.ts';
import type { Doc } from './doc.ts';

/** The most tags of a file, and the longest. */
export const mostTags = 50;
export const longestTag = 50;

/** Under these names other programs keep the words by which a graph is found: `keywords` is that of GEXF. */
const names: ReadonlySet<string> = new Set(['keywords', 'tags']);

/** The tags that a file of another program says of its outermost graph, sorted; separated by commas or semicolons. */
export function tagsSaid(doc: Doc): string[] {
  const graph = doc.graphs.get(doc.head.root);
  if (!graph) return [];
  const own = attributesOf(graph);
  const told = attributesIn(doc, 'graph').flatMap(({ name, title = name }) => {
    const value = names.has(title.toLowerCase()) ? own[name] : undefined;
    return typeof value === 'string' ? value.split(/[,;]/) : Array.isArray(value) ? value : [];
  });
  const tags = told.flatMap((one) => (typeof one === 'string' && one.trim() !== '' ? [one.trim()] : []));
  return [...new Set(tags)]
    .filter((tag) => tag.length <= longestTag && !tag.includes(','))
    .sort()
    .slice(0, mostTags);
}
