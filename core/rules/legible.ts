import { z } from 'zod';
import { builtin } from '../document/builtin.ts';
import { caption, indexOf } from '../document/doc.ts';
import { flowOf } from '../document/geometry.ts';
import type { Id } from '../document/ids.ts';
import { runsBackward, windowsOf } from '../inspect/lines.ts';
import { must } from '../must.ts';
import { type Found, fix, type Look, most, type Rule, rule } from './rule.ts';
import { say } from './sentences.ts';

/** The one that comes up most often, the first by id among equals. */
function commonest(ids: readonly Id[]): Id {
  const counts = new Map<Id, number>();
  for (const id of ids) counts.set(id, (counts.get(id) ?? 0) + 1);
  return must([...counts].sort((a, b) => b[1] - a[1] || (a[0] < b[0] ? -1 : 1))[0])[0];
}

export const backwardWires = rule({
  id: 'backward-wires',
  title: 'Wires against the flow',
  severity: 'info',
  group: 'reading',
  subject: 'wires',
  why: 'A reader who follows the flow has to go back for each wire that runs against it.',
  instead: 'Arrange the graph by its wiring; what is left are cycles.',
  options: z.object({ most: most(20, 'Percent of the wires of a graph that may run against its flow.', 100) }),
  *check(look: Look, { most: limit }): Iterable<Found> {
    for (const { graph, wires, lines } of look.judged()) {
      const flow = flowOf(look.view, graph);
      const back = wires.filter((_, i) => runsBackward(must(lines[i]).route, flow));
      const share = (100 * back.length) / Math.max(1, wires.length);
      if (back.length < 2 || share <= limit) continue;
      const said = say('backward-wires', { back: back.length, wires: wires.length, share: Math.round(share), limit });
      yield { graph, id: commonest(back.map((wire) => wire.to.node)), ...said, ...fix('arrange', []) };
    }
  },
});

export const longWires = rule({
  id: 'long-wires',
  title: 'Long wires',
  severity: 'info',
  group: 'reading',
  subject: 'wires',
  why: 'A wire whose ends do not fit in one window is hard to follow.',
  instead: 'Turn it into a remote link with a clear name, or move its ends closer together.',
  options: z.object({ most: most(3, 'How many windows of 1280 × 800 px a wire may reach beyond its own.', 100) }),
  *check(look: Look, { most: limit }): Iterable<Found> {
    for (const { graph, wires, lines } of look.judged()) {
      const byNode = new Map<Id, { ids: Id[]; windows: number }>();
      wires.forEach((wire, i) => {
        const windows = windowsOf(must(lines[i]).route);
        // a folded frame stands for what it holds: its wires are those inside
        if (windows <= limit || !look.doc.wires.has(wire.id) || !look.doc.nodes.has(wire.from.node)) return;
        const known = byNode.get(wire.from.node) ?? { ids: [], windows: 0 };
        known.ids.push(wire.id);
        byNode.set(wire.from.node, { ids: known.ids, windows: Math.max(known.windows, windows) });
      });
      for (const [id, { ids, windows }] of byNode) {
        const from = must(look.doc.nodes.get(id));
        const said = say('long-wires', { wires: ids.length, from: caption(from), windows, limit });
        yield { graph, id, ...said, ...(from.kind !== builtin.tap && fix('to-links', ids)) };
      }
    }
  },
});

export const manyCrossings = rule({
  id: 'many-crossings',
  title: 'Many crossings',
  severity: 'info',
  group: 'reading',
  subject: 'wires',
  why: 'Of all that makes a drawing hard to read, crossings count most (Purchase, “Which aesthetic has the greatest effect on human understanding?”, Graph Drawing 1997).',
  instead: 'Arrange the graph; turn what still runs across everything into remote links.',
  options: z.object({ most: most(1.5, 'Crossings per wire of a graph.', 1000) }),
  *check(look: Look, { most: limit }): Iterable<Found> {
    for (const { graph, wires, faults } of look.judged()) {
      const count = faults.count('crossing');
      const each = count / Math.max(1, wires.length);
      if (each <= limit) continue;
      const said = say('many-crossings', { count, wires: wires.length, each, limit });
      yield {
        graph,
        id: commonest(wires.flatMap((wire) => [wire.from.node, wire.to.node])),
        ...said,
        ...fix('arrange', []),
      };
    }
  },
});

export const switchedOff: Rule = {
  id: 'switched-off',
  title: 'Wire switched off',
  severity: 'info',
  group: 'leftovers',
  subject: 'wires',
  why: 'From a distance, a wire that is off looks like one that is on.',
  instead: 'Cut it, or switch it on again.',
  *check({ doc }: Look): Iterable<Found> {
    for (const wire of doc.wires.values()) {
      if (!wire.off) continue;
      const [from, to] = [must(doc.nodes.get(wire.from.node)), must(doc.nodes.get(wire.to.node))];
      yield {
        graph: to.graph,
        id: to.id,
        ...say('switched-off', { from: caption(from), to: caption(to) }),
        ...fix('cut-wires', [wire.id]),
      };
    }
  },
};

export const rerouteChain = rule({
  id: 'reroute-chain',
  title: 'Chain of reroute points',
  severity: 'info',
  group: 'reading',
  subject: 'wires',
  why: 'Reroute points that lead a wire around something stay when that thing is gone.',
  instead: 'Delete the points: the wire finds its own way, and what feeds what stays.',
  options: z.object({ most: most(3, 'Number of reroute points that may follow one another.', 1000) }),
  *check({ doc }: Look, { most: limit }): Iterable<Found> {
    const index = indexOf(doc);
    const before = (id: Id): Id | undefined => {
      const from = index.wireInto(id, 'in')?.from.node;
      return from !== undefined && doc.nodes.get(from)?.kind === builtin.reroute ? from : undefined;
    };
    const points = index.nodesOfKind(builtin.reroute);
    const followed = new Set(points.flatMap((point) => before(point.id) ?? []));
    for (const point of points) {
      // each chain is told of once, at its end
      if (followed.has(point.id)) continue;
      const chain: Id[] = [];
      for (let at: Id | undefined = point.id; at !== undefined && !chain.includes(at); at = before(at)) chain.push(at);
      if (chain.length > limit)
        yield {
          graph: point.graph,
          id: point.id,
          ...say('reroute-chain', { chain: chain.length, limit }),
          ...fix('delete', chain),
        };
    }
  },
});

export const largeGraph = rule({
  id: 'large-graph',
  title: 'Large graph',
  severity: 'info',
  group: 'reading',
  subject: 'size',
  why: 'Nobody can keep more than some hundred nodes in mind. A nested graph is easier to find and to understand.',
  instead: 'Nest parts of it, or publish them as shared kinds.',
  options: z.object({ most: most(400, 'Nodes in one graph.') }),
  *check({ doc }: Look, { most: limit }): Iterable<Found> {
    for (const graph of doc.graphs.keys()) {
      const nodes = indexOf(doc).nodesIn(graph);
      if (nodes.length > limit)
        yield { graph, id: must(nodes[0]).id, ...say('large-graph', { nodes: nodes.length, limit }) };
    }
  },
});

export const deepNesting = rule({
  id: 'deep-nesting',
  title: 'Deep nesting',
  severity: 'info',
  group: 'reading',
  subject: 'size',
  why: 'People do not find what is many levels down, unless they know that it is there.',
  instead: 'Unnest a level, or publish the inner graph as a shared kind.',
  options: z.object({ most: most(4, 'Number of levels of nested graphs, without the outermost graph.', 100) }),
  *check({ doc }: Look, { most: limit }): Iterable<Found> {
    const index = indexOf(doc);
    for (const graph of doc.graphs.keys()) {
      let depth = 0;
      const seen = new Set<Id>();
      for (let host = index.hostOf(graph); host && !seen.has(host.id); host = index.hostOf(host.graph)) {
        seen.add(host.id);
        depth++;
      }
      const own = index.hostOf(graph);
      // the first that is too deep is told of, not all that lies in it
      if (own && depth === limit + 1)
        yield {
          graph: own.graph,
          id: own.id,
          ...say('deep-nesting', { node: caption(own), depth, limit }),
        };
    }
  },
});

export const lowReadability = rule({
  id: 'low-readability',
  title: 'Hard to read',
  severity: 'warning',
  group: 'reading',
  subject: 'size',
  optional: true,
  why: 'A score for each graph tells a team which of hundreds to look at first.',
  instead: 'Go through the worst places that the inspection names; arranging mends most of them.',
  options: z.object({ least: most(50, 'The readability that each graph has to have, of 100.', 100) }),
  *check(look: Look, { least }): Iterable<Found> {
    for (const { graph, score, parts } of look.judged()) {
      const nodes = indexOf(look.doc).nodesIn(graph);
      if (nodes.length < 2 || score >= least) continue;
      const worst = [...parts].sort((a, b) => b.of - b.points - (a.of - a.points)).slice(0, 2);
      yield {
        graph,
        id: must(nodes[0]).id,
        ...say('low-readability', { score, least, faults: worst.map((part) => part.type) }),
        ...fix('arrange', []),
      };
    }
  },
});
