import { compareDocs } from '@basitax/core/inspect/compare/compare';
import { cost } from '@basitax/core/inspect/cost';
import { dependencies } from '@basitax/core/inspect/dependencies';
import { fingerprint } from '@basitax/core/inspect/fingerprint';
import { readability } from '@basitax/core/inspect/readability';
import { routesOf } from '@basitax/core/route/route';
import { checkRules, leftoverRules } from '@basitax/core/rules/rules';
import { kinds } from '@basitax/demo/builder';
import Graph from 'graphology';
import { stronglyConnectedComponents } from 'graphology-components';
import { bigScene } from './scene.ts';

interface Row {
  readonly what: string;
  readonly ms: number;
  /**
   * Of the time that graphology takes in the same run for strongly connected components of the same graph: machines
   * differ.
   */
  readonly ofReference: string;
}

const timed = <T>(act: () => T): [T, number] => {
  const started = performance.now();
  const value = act();
  return [value, performance.now() - started];
};

/**
 * Everything that is inspected, on a document of 10,000 nodes and 15,000 wires that nothing is known of yet: wall
 * clock.
 */
export async function inspect(): Promise<Row[]> {
  const warm = bigScene(1000, 1500);
  readability(warm, kinds, 'root');
  checkRules(warm, kinds);
  const doc = bigScene(10_000, 15_000);
  const graph = new Graph({ multi: true, type: 'directed' });
  for (const node of doc.nodes.keys()) graph.addNode(node);
  for (const wire of doc.wires.values()) graph.addEdge(wire.from.node, wire.to.node);
  stronglyConnectedComponents(graph);
  const [, reference] = timed(() => stronglyConnectedComponents(graph));
  const rows: Row[] = [
    { what: 'graphology, strongly connected components: the reference', ms: Math.round(reference), ofReference: '1.0' },
  ];
  const row = (what: string, act: () => unknown): void => {
    const [, ms] = timed(act);
    rows.push({ what, ms: Math.round(ms), ofReference: (ms / reference).toFixed(1) });
  };
  row('fingerprint', () => fingerprint(doc, kinds));
  row('routes', () => routesOf(doc, kinds, 'root'));
  row('readability, with the routes known', () => readability(doc, kinds, 'root'));
  row('leftovers', () => checkRules(doc, kinds, leftoverRules));
  row('all rules', () => checkRules(doc, kinds));
  const some = [...doc.nodes.keys()].slice(0, 5);
  row('dependencies of five nodes', () => dependencies(doc, kinds, some));
  const times = new Map([...doc.nodes.keys()].map((id, i) => [id, i % 97]));
  row('cost, with the critical path', () => cost(doc, kinds, times));
  const moved = {
    ...doc,
    nodes: new Map([...doc.nodes].map(([id, node], i) => [id, i % 3 === 0 ? { ...node, x: node.x + 10 } : node])),
  };
  row('comparing with a version in which a third moved', () =>
    compareDocs(doc, moved, { before: kinds, after: kinds }),
  );
  return rows;
}
