import type { LayeredGraph } from '@basitax/core/arrange/layered/graph';
import { ticket } from '@basitax/core/document/geometry';
import { textWidth } from '@basitax/core/document/metrics';
import { parseTree, type XmlTree } from '@basitax/core/formats/xml';
import { materialxDocuments } from '@basitax/core/tests/outside';

interface Item {
  readonly name: string;
  readonly inputs: readonly { readonly name: string; readonly from?: string; readonly output?: string }[];
}

/**
 * The node graphs of the open MaterialX standard's own library, as nobody here drew them, with the sizes that our
 * tickets would have.
 */
export function materialGraphs(): { name: string; graph: LayeredGraph }[] {
  return materialxDocuments().flatMap(({ text }) =>
    parseTree(text)
      .children.filter((element) => element.tag === 'nodegraph')
      .map((element) => ({
        name: element.attributes.name!,
        graph: graphOf(element.children.filter((child) => child.attributes.name !== undefined).map(itemOf)),
      })),
  );
}

function itemOf({ attributes, children }: XmlTree): Item {
  const led = ({ nodename, output }: XmlTree['attributes']) =>
    nodename ? { from: nodename, output: output ?? 'out' } : {};
  // an output of the graph is a node with one input here, as in our documents
  if (attributes.nodename) return { name: attributes.name!, inputs: [{ name: 'in', ...led(attributes) }] };
  return {
    name: attributes.name!,
    inputs: children
      .filter((child) => child.tag === 'input')
      .map((input) => ({ name: input.attributes.name!, ...led(input.attributes) })),
  };
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
      Math.max(
        ticket.minWidth,
        Math.ceil(
          ticket.spine + 2 * ticket.padX + Math.min(ticket.maxTitle, textWidth(item.name, 'bold', ticket.titleSize)),
        ),
      ),
    ),
    height: Float64Array.from(
      items,
      (item, v) => ticket.head + ticket.foot + ticket.row * Math.max(1, item.inputs.length, outputs[v]!.length),
    ),
    from: Int32Array.from(edges, (edge) => edge.u),
    to: Int32Array.from(edges, (edge) => edge.v),
    fromOffset: Float64Array.from(edges, (edge) => offset(edge.port)),
    toOffset: Float64Array.from(edges, (edge) => offset(edge.row)),
    net: Int32Array.from(edges, (edge) => edge.u * 64 + edge.port),
    x: new Float64Array(items.length),
    y: new Float64Array(items.length),
  };
}
