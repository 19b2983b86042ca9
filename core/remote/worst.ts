import { caption, type Doc, indexOf, type Selection, selectedNodes } from '../document/doc.ts';
import { apply } from '../edit/step.ts';
import { measureGraph } from '../inspect/measure.ts';
import { must } from '../must.ts';
import type { Context } from '../operation.ts';
import { operate } from '../operations.ts';
import { advise, type Figures, usualShare } from './advice.ts';

/** An output whose wires hurt, and what a remote link in place of the worst of them would save. */
export interface WorstOutput {
  /** Its node as people call it, and the port. */
  readonly node: string;
  readonly port: string;
  readonly wires: number;
  readonly saves: Figures;
  /** Weighed among the wires as they are now, and not routed anew without them. */
  readonly isEstimate: boolean;
}

/** In graphs of more wires than this, routing all of them for each output would take longer than anybody waits. */
const mostRouted = 1500;

/** So many are named, of so many that are tried. */
const [most, mostTried] = [3, 5];

/**
 * The outputs whose wires hurt most once all is arranged with these options, the worst first, among those that
 * arranging with links would turn.
 * What each saves is found by doing it on a copy, routed and measured; in large graphs it is what the advice weighs.
 * Cost: that of arranging, the advice, and up to six routings.
 */
export function worstOutputs(
  context: Context,
  doc: Doc,
  selection: Selection,
  options: Readonly<Record<string, unknown>>,
): readonly WorstOutput[] {
  const { kinds } = context;
  const { graph } = selection;
  const arranged = apply(doc, operate('arrange', context, doc, selection, { ...options, links: false }).edit);
  const chosen = selectedNodes(doc, selection);
  const { candidates } = advise(context, arranged, graph, {
    share: usualShare,
    routed: true,
    ...(chosen.length > 0 && { at: new Set(chosen.map((node) => node.id)) }),
  });
  const isEstimate = indexOf(arranged).wiresIn(graph).length > mostRouted;
  const before = isEstimate ? undefined : measureGraph(arranged, kinds, graph);
  return candidates
    .filter((one) => one.isAdvised)
    .sort((a, b) => worth(b.saves) - worth(a.saves))
    .slice(0, mostTried)
    .map(({ from, wires, name, saves: weighed }) => {
      const named = {
        node: caption(must(arranged.nodes.get(from.node))),
        port: from.port,
        wires: wires.length,
        isEstimate,
      };
      if (!before) return { ...named, saves: weighed };
      const linked = apply(
        arranged,
        operate('to-links', context, arranged, { graph, items: [] }, { links: [{ from, wires, name }] }).edit,
      );
      const after = measureGraph(linked, kinds, graph);
      const saves = {
        crossings: before.crossings - after.crossings,
        length: before.length - after.length,
        windows: before.windows - after.windows,
      };
      return { ...named, saves };
    })
    .filter(({ saves }) => worth(saves) > 0)
    .sort((a, b) => worth(b.saves) - worth(a.saves))
    .slice(0, most);
}

const worth = ({ crossings, windows }: Figures): number => crossings + windows;
