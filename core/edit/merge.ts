import { caption, type Doc, placeOf } from '../document/doc.ts';
import { parseDoc, writeDoc } from '../document/file.ts';
import type { Kinds } from '../document/kinds.ts';
import type { GraphNode } from '../document/schema.ts';
import type { Finding } from '../finding.ts';
import { dependencyGraph } from '../inspect/graph/dependency-graph.ts';
import { must } from '../must.ts';
import { portOf } from '../wiring/types.ts';
import { meet } from './meet.ts';
import type { Conflict } from './rebase.ts';
import { conflictSentences } from './resolve.ts';
import { find } from './sentences.ts';
import { apply } from './step.ts';

export interface Merged {
  /** Ours, with all of theirs that does not stand against it. */
  readonly doc: Doc;
  /**
   * What stands against each other, where ours was kept. `mine` is theirs here, since it is theirs that is brought
   * over.
   */
  readonly conflicts: readonly Conflict[];
  /** The conflicts in words, one sentence for each thing. */
  readonly said: readonly string[];
  /** What was adapted or repaired, and where a node now takes from something that neither side meant. */
  readonly findings: readonly Finding[];
}

/**
 * Brings two versions of one document together that both came from `base` (docs/semantics.md, Rebase and merge). The
 * result can be read by its own rules, whatever the versions were. O(records + steps of both + ports).
 */
export function mergeDocs(base: Doc, ours: Doc, theirs: Doc, kinds: Kinds): Merged {
  const met = meet(base, theirs, ours, kinds);
  const { edit, conflicts, notes } = met.rebased;
  // half of an act may be left where the other half was refused
  const { doc, findings } = parseDoc(writeDoc(apply(ours, edit)));
  const unmeant = conflicts.length > 0 ? [] : unmeantWiring(doc, { base, ours, theirs }, kinds);
  const said = conflictSentences(met, conflicts, { mine: 'theirs', theirs: 'ours' });
  return { doc, conflicts, said, findings: [...notes, ...findings, ...unmeant] };
}

/** What each input of each node takes in the end. */
function sourcesOf(doc: Doc, kinds: Kinds): ReadonlyMap<string, string> {
  const { nodes, inputs } = dependencyGraph(doc, kinds);
  const found = new Map<string, string>();
  nodes.forEach((node, i) => {
    for (const { port, source } of must(inputs[i])) {
      const key = `${node.id} ${port}`;
      found.set(key, [...(found.get(key)?.split('\n') ?? []), `${source.node} ${source.port}`].sort().join('\n'));
    }
  });
  return found;
}

/**
 * Nodes that take neither what they took where nobody changed it, nor what the one who changed it meant: feeds and
 * names reach further than one edit sees.
 */
function unmeantWiring(
  doc: Doc,
  { base, ours, theirs }: { base: Doc; ours: Doc; theirs: Doc },
  kinds: Kinds,
): Finding[] {
  const [was, mine, other, now] = [base, ours, theirs, doc].map((one) => sourcesOf(one, kinds)) as [
    ReadonlyMap<string, string>,
    ReadonlyMap<string, string>,
    ReadonlyMap<string, string>,
    ReadonlyMap<string, string>,
  ];
  // one entry for all that take the same unmeant thing
  const found = new Map<string, { nodes: GraphNode[]; inputs: string[]; takes: string | undefined }>();
  for (const key of [...new Set([...now.keys(), ...mine.keys(), ...other.keys()])].sort()) {
    const [id, port] = key.split(' ') as [string, string];
    const node = doc.nodes.get(id);
    if (!node) continue;
    const meant = mine.get(key) === was.get(key) ? other.get(key) : mine.get(key);
    if (now.get(key) === meant || now.get(key) === mine.get(key)) continue;
    const takes = now.get(key);
    const entry = found.get(takes ?? '') ?? { nodes: [], inputs: [], takes };
    entry.nodes.push(node);
    entry.inputs.push(`${portOf(node, port, 'in')?.name ?? port} of ${caption(node)}`);
    found.set(takes ?? '', entry);
  }
  return [...found.values()].map(({ nodes, inputs, takes }) => {
    const node = must(nodes[0]);
    const source = takes === undefined ? undefined : caption(must(doc.nodes.get(takes.split(' ')[0] ?? '')));
    return find('merge-wiring', 'warning', placeOf(doc, node.graph, node.id), 'feeds-changed', { inputs, source });
  });
}
