import { type Doc, nodePath, nodesByPath } from '../document/doc.ts';
import type { Id } from '../document/ids.ts';
import type { Kinds } from '../document/kinds.ts';
import type { Finding } from '../finding.ts';
import { must } from '../must.ts';
import { checkRules, leftoverRules } from '../rules/rules.ts';
import { type Dependencies, dependencies } from './dependencies.ts';
import { type Fingerprint, fingerprint, nodeHashes } from './fingerprint.ts';
import { dependencyGraph } from './graph/dependency-graph.ts';
import { type Measures, measureDoc } from './measure.ts';
import { type Readability, readability, scoreOf } from './readability.ts';
import { type Paths, pathsBetween } from './ways.ts';

// What is asked of a whole document, as the command line prints it and HTTP sends it.

/** How hard it is to read: measures, score, and what that is made of, by graph. */
export type MeasuresAnswer = Measures & { graphs: number; score: number; readability: readonly Readability[] };

/** O(routing all wires). */
export function measuresOf(doc: Doc, kinds: Kinds): MeasuresAnswer {
  const reports = [...doc.graphs.keys()].map((graph) => readability(doc, kinds, graph));
  return { graphs: doc.graphs.size, ...measureDoc(doc, kinds), score: scoreOf(reports), readability: reports };
}

/** What it computes, as two hashes, and where wanted the hash of each node by its path. O(nodes + wires). */
export function printsOf(
  doc: Doc,
  kinds: Kinds,
  withNodes: boolean,
): Fingerprint & { nodes?: Readonly<Record<string, string>> } {
  const print = fingerprint(doc, kinds);
  if (!withNodes) return print;
  const hashes = nodeHashes(doc, kinds);
  const nodes = dependencyGraph(doc, kinds).nodes.map((node, i) => [nodePath(doc, node), must(hashes[i])] as const);
  return { ...print, nodes: Object.fromEntries(nodes) };
}

/** Nodes by id or by path; the ones that are not there are named. O(nodes). */
export function nodesNamed(doc: Doc, names: readonly string[]): { ids: readonly Id[]; missing: readonly string[] } {
  const byPath = nodesByPath(doc);
  const found = names.map((name) => (doc.nodes.has(name) ? name : byPath.get(name)));
  return { ids: found.filter((id) => id !== undefined), missing: names.filter((_, i) => found[i] === undefined) };
}

/** What some nodes depend on and what depends on them; of two also the ways from one to the other. */
export function dependenciesOf(doc: Doc, kinds: Kinds, ids: readonly Id[]): Dependencies & { paths?: Paths | null } {
  const found = dependencies(doc, kinds, ids);
  if (ids.length !== 2) return found;
  return { ...found, paths: pathsBetween(doc, kinds, must(ids[0]), must(ids[1])) ?? null };
}

/** What could go or was forgotten, with what mends it. */
export const leftoversOf = (doc: Doc, kinds: Kinds): readonly Finding[] => checkRules(doc, kinds, leftoverRules);
