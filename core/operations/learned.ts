import { z } from 'zod';
import { attributesOf } from '../document/attributes.ts';
import { foreignKind } from '../document/builtin.ts';
import { selectedOrAll } from '../document/doc.ts';
import type { Id } from '../document/ids.ts';
import type { Json } from '../document/json.ts';
import type { Kinds } from '../document/kinds.ts';
import type { GraphNode } from '../document/schema.ts';
import type { Finding } from '../finding.ts';
import { groupBy } from '../group-by.ts';
import { byCaption, kindCalled, tellingAttribute, toldKind } from '../learn/evidence.ts';
import { storedAs } from '../learn/values.ts';
import { must } from '../must.ts';
import { operation } from '../operation.ts';
import { replaceKind } from '../wiring/replace.ts';
import { plural } from '../words.ts';
import { find, refuse } from './sentences.ts';
import { wiringOf } from './wire.ts';

/** The attributes of a node of another program that its new kind has parameters for, as their values. */
function valuesFor(kinds: Kinds, node: GraphNode, kind: string): [string, Json][] {
  return Object.entries(attributesOf(node)).flatMap(([name, value]): [string, Json][] => {
    const spec = kinds.parameter(kind, name);
    if (!spec) return [];
    const fitting = storedAs(spec.type, value);
    return kinds.valueProblem(kind, name, fitting) ? [] : [[name, fitting]];
  });
}

/** The first of some nodes: enough to go there. */
const placesOf = (nodes: readonly GraphNode[]): Id[] => nodes.slice(0, 50).map((node) => node.id);

export const giveKinds = operation({
  id: 'give-kinds',
  title: 'Give imported nodes their kinds',
  area: 'edit',
  about:
    'Turns imported nodes, the selected ones or all in this graph, into the kind that one of their attributes names. Wires are kept. Attributes that match parameters of the kind become their values, and are kept as attributes too.',
  needs: { what: 'nothing', least: 0 },
  options: z.object({
    by: z.string().trim().max(180).default('').meta({
      title: 'Attribute that names the kind',
      hint: 'empty: found automatically; “caption” for the text on the node',
    }),
  }),
  changesFunction: true,
  preview: 'first',
  room: 'all',
  asks: true,
  run(context, doc, selection, { by }) {
    const { kinds } = context;
    const foreign = selectedOrAll(doc, selection).filter((node) => node.kind === foreignKind);
    if (foreign.length === 0) throw refuse('nothing-imported');
    const telling = by === '' ? tellingAttribute(doc) : by;
    if (telling === undefined) throw refuse('no-kind-attribute');
    const called = groupBy(foreign, (node) => toldKind(node, telling));
    if (called.size === 0) throw refuse('no-kind-named', { by: telling });
    const wiring = wiringOf(context, doc);
    const findings: Finding[] = [];
    let given = 0;
    let of = 0;
    for (const [name, nodes] of called) {
      const kind = kindCalled(kinds, name);
      if (kind === undefined) {
        findings.push(
          find('kind-not-known', 'warning', placesOf(nodes), 'kind-not-known', { name, count: nodes.length }),
        );
        continue;
      }
      of++;
      for (const node of nodes) {
        findings.push(...replaceKind(wiring, must(wiring.tx.get('nodes', node.id)), kind));
        for (const [id, value] of valuesFor(kinds, node, kind)) wiring.tx.setParameter(node.id, id, value);
        given++;
      }
    }
    const untold = foreign.filter((node) => toldKind(node, telling) === undefined);
    if (untold.length > 0)
      findings.push(
        find('kind-untold', 'info', placesOf(untold), 'kind-untold', {
          count: untold.length,
          by: telling === byCaption ? '' : telling,
        }),
      );
    return {
      edit: wiring.tx.edit,
      report: {
        summary:
          given === 0
            ? 'No node was given a kind.'
            : `Gave ${plural(given, 'node')} ${given === 1 ? 'its kind' : of === 1 ? 'their kind' : `their kinds, ${of} in all`}.`,
        findings,
      },
    };
  },
});
