import { builtin } from '../document/builtin.ts';
import { caption, type Doc, indexOf } from '../document/doc.ts';
import { lostReadings, readingsOf } from '../document/expressions.ts';
import type { Id } from '../document/ids.ts';
import type { GraphNode } from '../document/schema.ts';
import { cyclesOf } from '../inspect/graph/components.ts';
import { type DependencyGraph, dependencyGraph } from '../inspect/graph/dependency-graph.ts';
import { must } from '../must.ts';
import type { Saying } from '../said.ts';
import { beaconOf, tapsOf } from '../wiring/carriers.ts';
import { effectiveWiring } from '../wiring/effective.ts';
import { neededNodes } from '../wiring/needed.ts';
import { choice, type Found, fix, foundAt, type Look, type Rule } from './rule.ts';
import { say } from './sentences.ts';

export const lostEnd: Rule = {
  id: 'lost-end',
  title: 'Lost end',
  severity: 'error',
  group: 'leftovers',
  subject: 'remote links',
  why: 'A tap without its beacon gives nothing, and nothing shows this where it is used.',
  instead: 'Connect it to an existing beacon, or remove it.',
  *check({ doc }: Look): Iterable<Found> {
    const index = indexOf(doc);
    for (const tap of index.nodesOfKind(builtin.tap))
      if (!beaconOf(doc, tap)) yield at(tap, say('lost-tap', { tap: tap.name, beacon: tap.beacon?.name }), [tap.id]);
    for (const beacon of index.nodesOfKind(builtin.beacon)) {
      if (index.wireInto(beacon.id, 'in')) continue;
      const taps = tapsOf(doc, beacon.id);
      const heard =
        taps.length === 0
          ? 'and nothing listens for it'
          : `and ${taps.length === 1 ? 'its tap gives' : `its ${taps.length} taps give`} nothing`;
      // taps of other graphs cannot be selected with it: they are findings of their own once it is gone
      yield at(beacon, say('lost-beacon', { beacon: beacon.name, heard }), [
        beacon.id,
        ...taps.filter((tap) => tap.graph === beacon.graph).map((tap) => tap.id),
      ]);
    }
    for (const node of doc.nodes.values())
      for (const { parameter } of lostReadings(doc, node))
        yield {
          ...at(node, say('lost-expression', { parameter, node: caption(node) }), []),
          // what it is to be now nobody can tell from the file
          choices: [choice('Take it back to its default', 'set-parameter', [node.id], { parameter })],
        };
  },
};

function at(node: GraphNode, why: Saying, gone: readonly Id[]): Found {
  return { ...foundAt(node, why), ...(gone.length > 0 && fix('delete', gone)) };
}

/** What no end needs, where the file has one. */
function* idle(look: Look): Iterable<{ node: GraphNode; isRead: boolean }> {
  const { doc, kinds } = look;
  const needed = neededNodes(doc, kinds, true);
  if (!needed) return;
  const graph = dependencyGraph(doc, kinds);
  for (const node of doc.nodes.values()) {
    const host = indexOf(doc).hostOf(node.graph);
    // what lies in something that is not needed goes with it
    if (needed.has(node.id) || kinds.isFixture(node.kind) || (host && !needed.has(host.id))) continue;
    yield { node, isRead: isRead(doc, graph, node) };
  }
}

function isRead(doc: Doc, graph: DependencyGraph, node: GraphNode): boolean {
  const i = graph.at.get(node.id);
  return indexOf(doc).wiresFrom(node.id).length > 0 || (i !== undefined && must(graph.after[i]).length > 0);
}

export const unused: Rule = {
  id: 'unused',
  title: 'Unused',
  severity: 'info',
  group: 'leftovers',
  subject: 'leftovers',
  why: 'A node that nothing uses costs time, for computers or for readers.',
  instead: 'Delete it with its wires, or connect it.',
  *check(look: Look): Iterable<Found> {
    for (const { node, isRead: read } of idle(look))
      if (!read && node.kind !== builtin.beacon)
        yield {
          graph: node.graph,
          id: node.id,
          ...say('unused', { node: caption(node), kind: look.kinds.title(node.kind) }),
          ...fix('delete-with-wires', [node.id]),
        };
  },
};

export const unreachable: Rule = {
  id: 'unreachable',
  title: 'Unreachable',
  severity: 'info',
  group: 'leftovers',
  subject: 'leftovers',
  why: 'A node that feeds only unused nodes is not needed either.',
  instead: 'Clear out what no end needs.',
  *check(look: Look): Iterable<Found> {
    for (const { node, isRead: read } of idle(look))
      if (read)
        yield {
          graph: node.graph,
          id: node.id,
          ...say('unreachable', { node: caption(node), kind: look.kinds.title(node.kind) }),
          ...fix('clear-out', []),
        };
  },
};

/** Days after which a bypassed node is taken to be so for good. */
const daysBypassed = 14;

export const longBypassed: Rule = {
  id: 'long-bypassed',
  title: 'Bypassed',
  severity: 'info',
  group: 'leftovers',
  subject: 'leftovers',
  why: 'A wire that was switched off for a test, and stayed off, puzzles the next person.',
  instead: 'Delete it, or switch it on again.',
  *check({ doc, facts }: Look): Iterable<Found> {
    for (const node of doc.nodes.values()) {
      if (!node.bypassed) continue;
      const since = facts.bypassedSince?.[node.id];
      const days =
        since && (since.days < 1 ? 'today' : since.days < 2 ? 'for a day' : `for ${Math.floor(since.days)} days`);
      const said = since
        ? say('bypassed-since', { node: caption(node), revision: since.revision, days: days ?? '' })
        : say('bypassed-for-unknown', { node: caption(node) });
      yield {
        graph: node.graph,
        id: node.id,
        ...said,
        ...(since && since.days >= daysBypassed && { severity: 'warning' as const }),
        ...fix('delete', [node.id]),
      };
    }
  },
};

export const cycle: Rule = {
  id: 'cycle',
  title: 'Cycle',
  severity: 'warning',
  group: 'leftovers',
  subject: 'wires',
  why: 'What depends on itself has no order in which it could be computed, unless the host knows what a turn is.',
  instead: 'Switch off the wires that close the cycle, or take the input from before it.',
  *check({ doc, kinds }: Look): Iterable<Found> {
    const graph = dependencyGraph(doc, kinds);
    const loops = kinds.catalogue.loops === 'allowed' ? { severity: 'info' as const } : {};
    for (const component of cyclesOf(graph.before)) {
      const nodes = component.map((i) => must(graph.nodes[i])).sort((a, b) => a.x - b.x || (a.id < b.id ? -1 : 1));
      const [first] = nodes as [GraphNode];
      const said = say('cycle', { nodes: nodes.length, first: caption(first), caption: nodes.map(caption) });
      yield { graph: first.graph, id: first.id, ...said, ...loops, ...openingFix(doc, graph, component) };
    }
    for (const item of effectiveWiring(doc, kinds).findings)
      if (item.rule === 'carrier-loop') {
        const node = must(doc.nodes.get(must(item.place.at(-1))));
        const wires = indexOf(doc).wiresInto(node.id);
        yield { ...foundAt(node, item), ...(wires[0] && fix('cut-wires', [wires[0].id])) };
      }
  },
};

/**
 * What opens a cycle: its closing wires switched off, those of one graph at a time; where none closes it by a wire, an
 * expression taken back to its default.
 */
function openingFix(doc: Doc, graph: DependencyGraph, component: readonly number[]): Partial<Found> {
  const closing = closingEdges(graph, component);
  const wires = closing.flatMap(({ from, to }) =>
    must(graph.inputs[to]).flatMap(({ port, source }) => {
      const node = must(graph.nodes[to]);
      const wire = source.node === must(graph.nodes[from]).id ? indexOf(doc).wireInto(node.id, port) : undefined;
      return wire ? [{ id: wire.id, graph: node.graph }] : [];
    }),
  );
  const [one] = wires;
  if (one)
    return {
      graph: one.graph,
      id: must(doc.wires.get(one.id)).to.node,
      ...fix(
        'switch-wires',
        wires.filter((wire) => wire.graph === one.graph).map((wire) => wire.id),
        { to: 'off' },
      ),
    };
  for (const { from, to } of closing) {
    const node = must(graph.nodes[to]);
    const reading = readingsOf(node).find(({ reads }) => reads === must(graph.nodes[from]).id);
    if (reading)
      return { graph: node.graph, id: node.id, ...fix('set-parameter', [node.id], { parameter: reading.parameter }) };
  }
  return {};
}

/**
 * The edges that lead back to what was found before, going along the data from the leftmost node: without them there is
 * no cycle.
 */
function closingEdges(
  graph: DependencyGraph,
  component: readonly number[],
): { readonly from: number; readonly to: number }[] {
  const inside = new Set(component);
  const start = must([...component].sort((a, b) => must(graph.nodes[a]).x - must(graph.nodes[b]).x || a - b)[0]);
  const [open, done] = [new Set<number>(), new Set<number>()];
  const closing: { from: number; to: number }[] = [];
  const stack: { at: number; next: readonly number[] }[] = [];
  const enter = (i: number): void => {
    open.add(i);
    stack.push({ at: i, next: must(graph.after[i]).filter((k) => inside.has(k)) });
  };
  enter(start);
  for (let top = stack.at(-1); top; top = stack.at(-1)) {
    const [next, ...rest] = top.next;
    if (next === undefined) {
      stack.pop();
      open.delete(top.at);
      done.add(top.at);
      continue;
    }
    stack[stack.length - 1] = { at: top.at, next: rest };
    if (open.has(next)) closing.push({ from: top.at, to: next });
    else if (!done.has(next)) enter(next);
  }
  return closing;
}
