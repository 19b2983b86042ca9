import type { LayeredGraph } from '@basitax/core/arrange/layered/graph';
import { ticket } from '@basitax/core/document/geometry';
import { textWidth } from '@basitax/core/document/metrics';
import { materialxDocuments } from '@basitax/core/tests/outside';
import { XMLParser } from 'fast-xml-parser';

interface Item {
  readonly name: string;
  readonly inputs: readonly { readonly name: string; readonly from?: string; readonly output?: string }[];
}

/** The node graphs of the open MaterialX standard's own library, as nobody here drew them, with the sizes that our tickets would have. */
export function materialGraphs(): { name: string; graph: LayeredGraph }[] {
  const parser = new XMLParser({ ignoreAttributes: false, attributeNamePrefix: '', preserveOrder: true });
  return materialxDocuments().flatMap(({ text }) => graphsIn(parser.parse(text) as Element[]));
}

type Element = Record<string, Element[]> & { ':@'?: Record<string, string> };
const tagOf = (element: Element): string => Object.keys(element).find((key) => key !== ':@')!;
const childrenOf = (element: Element): Element[] => element[tagOf(element)] ?? [];

function graphsIn(document: Element[]): { name: string; graph: LayeredGraph }[] {
  const top = document.find((element) => tagOf(element) === 'materialx');
  if (!top) return [];
  return childrenOf(top)
    .filter((element) => tagOf(element) === 'nodegraph')
    .map((element) => {
      const items = childrenOf(element)
        .filter((child) => child[':@']?.name !== undefined)
        .map((child): Item => {
          const attributes = child[':@']!;
          const inputs = childrenOf(child)
            .filter((input) => tagOf(input) === 'input')
            .map((input) => ({ name: input[':@']!.name!, ...(input[':@']!.nodename && { from: input[':@']!.nodename, output: input[':@']!.output ?? 'out' }) }));
          // an output of the graph is a node with one input here, as in our documents
          return { name: attributes.name!, inputs: attributes.nodename ? [{ name: 'in', from: attributes.nodename, output: attributes.output ?? 'out' }] : inputs };
        });
      return { name: element[':@']!.name!, graph: graphOf(items) };
    });
}

function graphOf(items: readonly Item[]): LayeredGraph {
  const number = new Map(items.map((item, i) => [item.name, i]));
  const outputs = items.map((): string[] => []);
  const edges: { u: number; v: number; port: number; row: number }[] = [];
  items.forEach((item, v) =>
    item.inputs.forEach((input, row) => {
      const u = input.from === undefined ? undefined : number.get(input.from);
      if (u === undefined || u === v) return;
      if (!outputs[u]!.includes(input.output!)) outputs[u]!.push(input.output!);
      edges.push({ u, v, port: outputs[u]!.indexOf(input.output!), row });
    }),
  );
  const offset = (row: number): number => ticket.head + ticket.row * (row + 0.5);
  return {
    count: items.length,
    width: Float64Array.from(items, (item) =>
      Math.max(ticket.minWidth, Math.ceil(ticket.spine + 2 * ticket.padX + Math.min(ticket.maxTitle, textWidth(item.name, 'bold', ticket.titleSize)))),
    ),
    height: Float64Array.from(items, (item, v) => ticket.head + ticket.foot + ticket.row * Math.max(1, item.inputs.length, outputs[v]!.length)),
    from: Int32Array.from(edges, (edge) => edge.u),
    to: Int32Array.from(edges, (edge) => edge.v),
    fromOffset: Float64Array.from(edges, (edge) => offset(edge.port)),
    toOffset: Float64Array.from(edges, (edge) => offset(edge.row)),
    net: Int32Array.from(edges, (edge) => edge.u * 64 + edge.port),
    x: new Float64Array(items.length),
    y: new Float64Array(items.length),
  };
}
