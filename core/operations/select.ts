import { z } from 'zod';
import { type Doc, indexOf, nodesWithin, type Selection, selectedNodes } from '../document/doc.ts';
import { compareIds, type Id } from '../document/ids.ts';
import type { GraphNode } from '../document/schema.ts';
import { connected, reach, seenFrom } from '../inspect/reach.ts';
import { must } from '../must.ts';
import { type Context, type Needs, operation } from '../operation.ts';
import { QueryError, select as selectBy } from '../query/query.ts';
import { otherEnds } from '../remote/ends.ts';
import { effectiveWiring } from '../wiring/effective.ts';
import { plural } from '../words.ts';
import { refuse } from './sentences.ts';

const add = z.boolean().default(false).meta({ title: 'Keep what is selected' });
const addable = z.object({ add });

/** From left to right, then down: the order in which nodes found at once enter the selection. */
const inReadingOrder = (nodes: readonly GraphNode[]): Id[] =>
  [...nodes].sort((a, b) => a.x - b.x || a.y - b.y || compareIds(a.id, b.id)).map((node) => node.id);

/**
 * An operation that gives another selection and leaves the document alone. What was selected before keeps its place in
 * the order.
 */
function selecting<const Name extends string, Options extends z.ZodObject>(
  about: { id: Name; title: string; about: string; needs: Needs; options: Options; heavy?: true },
  find: (context: Context, doc: Doc, selection: Selection, options: z.output<Options>) => readonly Id[],
) {
  return operation({
    id: about.id,
    title: about.title,
    area: 'select',
    about: about.about,
    needs: about.needs,
    options: about.options,
    changesFunction: false,
    preview: 'at-once',
    selects: true,
    ...(about.heavy && { heavy: true }),
    run(context, doc, selection, options) {
      const found = find(context, doc, selection, options);
      const kept = (options as { add?: boolean }).add === true ? selection.items : [];
      const select = [...new Set([...kept, ...found])];
      return {
        edit: { steps: [] },
        report: {
          summary: select.length === 0 ? 'Nothing is selected.' : `Selected ${plural(select.length, 'thing')}.`,
          findings: [],
          select,
        },
      };
    },
  });
}

const any: Needs = { what: 'nothing', least: 0 };
const nodes: Needs = { what: 'nodes', least: 1 };
const all = (doc: Doc, graph: Id): readonly GraphNode[] => indexOf(doc).nodesIn(graph);
const idsOf = (doc: Doc, selection: Selection): Id[] => selectedNodes(doc, selection).map((node) => node.id);

const steps = z.int().min(0).max(1000).default(0).meta({ title: 'Steps', hint: '0: all the way' });

const along = <const Direction extends 'up' | 'down'>(direction: Direction) =>
  selecting(
    {
      id: `select-${direction}stream`,
      title: direction === 'up' ? 'Select upstream' : 'Select downstream',
      about: `Adds everything that ${direction === 'up' ? 'feeds the selected nodes' : 'the selected nodes feed'}, through remote links, feeds and nested graphs; nearest first.`,
      needs: nodes,
      options: z.object({ steps }),
      heavy: true,
    },
    (context, doc, selection, options) => [
      ...idsOf(doc, selection),
      ...seenFrom(
        doc,
        selection.graph,
        reach(doc, context.kinds, idsOf(doc, selection), direction, options.steps || undefined),
      ),
    ],
  );

export const selects = [
  selecting(
    {
      id: 'select-all',
      title: 'Select all',
      about: 'Selects every node of this graph.',
      needs: any,
      options: z.object({}),
    },
    (_c, doc, { graph }) => inReadingOrder(all(doc, graph)),
  ),
  selecting(
    { id: 'select-none', title: 'Select nothing', about: 'Empties the selection.', needs: any, options: z.object({}) },
    () => [],
  ),
  selecting(
    {
      id: 'select-invert',
      title: 'Invert the selection',
      about: 'Selects the nodes that are not selected, and deselects the others.',
      needs: any,
      options: z.object({}),
    },
    (_c, doc, selection) => {
      const chosen = new Set(idsOf(doc, selection));
      return inReadingOrder(all(doc, selection.graph).filter((node) => !chosen.has(node.id)));
    },
  ),
  selecting(
    {
      id: 'select-same-kind',
      title: 'Select the same kind',
      about: 'Selects all nodes of the kinds that are selected.',
      needs: nodes,
      options: z.object({}),
    },
    (_c, doc, selection) => {
      const kinds = new Set(selectedNodes(doc, selection).map((node) => node.kind));
      return [
        ...idsOf(doc, selection),
        ...inReadingOrder(all(doc, selection.graph).filter((node) => kinds.has(node.kind))),
      ];
    },
  ),
  selecting(
    {
      id: 'select-in-frame',
      title: 'Select inside the frame',
      about: 'Selects all nodes in the selected frames, or in the frames around the selected nodes.',
      needs: { what: 'items', least: 1 },
      options: addable,
    },
    (_c, doc, { items }) => {
      const frames = new Set(items.flatMap((id) => (doc.frames.has(id) ? id : (doc.nodes.get(id)?.frame ?? []))));
      if (frames.size === 0) throw refuse('no-frame-selected');
      return [...new Set([...frames].flatMap((frame) => inReadingOrder(nodesWithin(doc, frame))))];
    },
  ),
  along('up'),
  along('down'),
  selecting(
    {
      id: 'select-connected',
      title: 'Select everything connected',
      about: 'Adds everything that is connected to the selected nodes, in either direction.',
      needs: nodes,
      options: z.object({}),
      heavy: true,
    },
    (context, doc, selection) => [
      ...idsOf(doc, selection),
      ...seenFrom(doc, selection.graph, connected(doc, context.kinds, idsOf(doc, selection))),
    ],
  ),
  selecting(
    {
      id: 'select-ends',
      title: 'Select the other ends',
      about:
        'Adds the other ends of the selected beacons, taps and standing feeds; those in nested graphs as the node that holds them.',
      needs: nodes,
      options: z.object({}),
    },
    (context, doc, selection) => {
      const wiring = effectiveWiring(doc, context.kinds);
      const ends = selectedNodes(doc, selection).flatMap((node) => otherEnds(doc, wiring, node));
      if (ends.length === 0) throw refuse('no-other-end');
      return [
        ...idsOf(doc, selection),
        ...inReadingOrder(
          seenFrom(
            doc,
            selection.graph,
            ends.map((node) => node.id),
          ).map((id) => must(doc.nodes.get(id))),
        ),
      ];
    },
  ),
  selecting(
    {
      id: 'select-by-query',
      title: 'Select by query',
      about: 'Selects the nodes of this graph that fit a query, such as kind:blur and size > 4.',
      needs: any,
      options: z.object({ query: z.string().max(2000).meta({ title: 'Query', choose: 'query' }), add }),
    },
    (context, doc, { graph }, { query }) => {
      try {
        const found = new Set(selectBy(query, doc, context.kinds, graph));
        return inReadingOrder(all(doc, graph).filter((node) => found.has(node.id)));
      } catch (error) {
        if (error instanceof QueryError) throw refuse('query-unreadable', { problem: error.message });
        throw error;
      }
    },
  ),
];
