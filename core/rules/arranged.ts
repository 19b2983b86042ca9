import Flatbush from 'flatbush';
import { caption } from '../document/doc.ts';
import type { Rect } from '../document/geometry.ts';
import type { GraphNode } from '../document/schema.ts';
import { dependencyGraph, reachable } from '../inspect/graph/dependency-graph.ts';
import { must } from '../must.ts';
import { equalNodes } from '../structure/merge.ts';
import { type Found, fix, type Look, type Rule } from './rule.ts';
import { say } from './sentences.ts';

export const overlap: Rule = {
  id: 'overlap',
  title: 'Overlap',
  severity: 'warning',
  group: 'reading',
  subject: 'overlaps',
  why: 'A node under another node cannot be read, and its wires seem to belong to the other one.',
  instead: 'Unstack them: this moves them as little as possible and keeps their order.',
  *check(look: Look): Iterable<Found> {
    for (const graph of look.doc.graphs.keys()) {
      const boxes = look.boxes(graph);
      for (const group of touching(boxes.overlapping())) {
        const nodes = group.map((i) => must(boxes.nodes[i]));
        const ids = nodes.map((node) => node.id);
        yield {
          graph,
          id: must(ids[0]),
          ...say('overlap', { nodes: nodes.map(caption) }),
          ...fix('unstack', ids),
        };
      }
    }
  },
};

/** What hangs together by pairs, each group in order. */
function touching(pairs: readonly (readonly [number, number])[]): number[][] {
  const of = new Map<number, Set<number>>();
  for (const [a, b] of pairs) {
    const [one, other] = [of.get(a) ?? new Set([a]), of.get(b) ?? new Set([b])];
    if (one === other) continue;
    of.set(a, one).set(b, other);
    // the smaller group joins the larger one: each member changes its group no more than log n times
    const [large, small] = one.size >= other.size ? [one, other] : [other, one];
    for (const i of small) {
      large.add(i);
      of.set(i, large);
    }
  }
  return [...new Set(of.values())].map((group) => [...group].sort((a, b) => a - b));
}

/** Which boxes touch a box, by number and in order, itself included. O(n log n) to build, O(log n + found) to ask. */
function neighboursBy(rects: readonly Rect[]): (i: number) => number[] {
  const tree = new Flatbush(rects.length);
  for (const { x, y, width, height } of rects) tree.add(x, y, x + width, y + height);
  tree.finish();
  return (i) => {
    const { x, y, width, height } = must(rects[i]);
    return tree.search(x, y, x + width, y + height).sort((a, b) => a - b);
  };
}

/** How much of the smaller of two boxes has to lie on the other for a stack. */
const leastShare = 0.8;

export const stackedDuplicate: Rule = {
  id: 'stacked-duplicate',
  title: 'Stacked duplicate',
  severity: 'warning',
  group: 'leftovers',
  subject: 'leftovers',
  why: 'A copy that lies on the node it was made from is usually a mistake: one is changed, and the other still computes the old result.',
  instead: 'Keep one of them for all consumers, or move them apart if you need both.',
  *check(look: Look): Iterable<Found> {
    for (const group of equalNodes(look.doc, look.kinds)) {
      const graph = must(group[0]).graph;
      const boxes = look.boxes(graph);
      const at = new Map(boxes.nodes.map((node, i) => [node.id, must(boxes.rects[i])]));
      const left = new Set(group);
      const near = neighboursBy(group.map((node) => must(at.get(node.id))));
      for (const [i, node] of group.entries()) {
        if (!left.has(node)) continue;
        const stack = near(i).flatMap((k) => {
          const other = must(group[k]);
          return left.has(other) && (other === node || isStacked(at, node, other)) ? [other] : [];
        });
        for (const other of stack) left.delete(other);
        if (stack.length < 2) continue;
        yield {
          graph,
          id: node.id,
          ...say('stacked-duplicate', { nodes: stack.map(caption) }),
          ...fix(
            'merge',
            stack.map((one) => one.id),
          ),
        };
      }
    }
  },
};

export const equalParts: Rule = {
  id: 'equal-parts',
  title: 'Equal parts',
  severity: 'info',
  group: 'leftovers',
  subject: 'leftovers',
  why: 'A part that exists twice is computed twice, and must be changed twice.',
  instead: 'Keep one part for all consumers.',
  *check({ doc, kinds }: Look): Iterable<Found> {
    const groups = equalNodes(doc, kinds);
    const graph = dependencyGraph(doc, kinds);
    const groupOf = new Map<number, number>();
    groups.forEach((group, g) => {
      for (const node of group) groupOf.set(must(graph.at.get(node.id)), g);
    });
    for (const group of groups) {
      const members = group.map((node) => must(graph.at.get(node.id)));
      // what only feeds other equal nodes is told with them
      const readers = members.map((i) => must(graph.after[i]));
      if (readers.every((list) => list.length > 0 && list.every((k) => groupOf.has(k)))) continue;
      const feeding = members.map((i) =>
        [...reachable(graph.before, [i])].filter(
          (k) => k !== i && groupOf.has(k) && must(graph.nodes[k]).graph === must(group[0]).graph,
        ),
      );
      const least = Math.min(...feeding.map((list) => list.length));
      if (least === 0) continue;
      const ids = [...new Set([...members, ...feeding.flat()])].map((i) => must(graph.nodes[i]).id);
      const [first] = group as readonly [GraphNode];
      yield {
        graph: first.graph,
        id: first.id,
        ...say('equal-parts', { nodes: group.map(caption), least }),
        ...fix('merge', ids),
      };
    }
  },
};

function isStacked(at: ReadonlyMap<string, Rect>, one: GraphNode, other: GraphNode): boolean {
  const [a, b] = [at.get(one.id), at.get(other.id)];
  if (!a || !b) return false;
  const width = Math.min(a.x + a.width, b.x + b.width) - Math.max(a.x, b.x);
  const height = Math.min(a.y + a.height, b.y + b.height) - Math.max(a.y, b.y);
  return width > 0 && height > 0 && width * height >= leastShare * Math.min(a.width * a.height, b.width * b.height);
}

export const throughNode: Rule = {
  id: 'wire-through-node',
  title: 'Wire through a node',
  severity: 'warning',
  group: 'reading',
  subject: 'wires',
  why: 'A wire that runs through a node looks as if it ended there.',
  instead: 'Make room around the node, or draw wires at right angles, so that they go around it.',
  *check(look: Look): Iterable<Found> {
    const { view } = look;
    const style = view.head.wireStyle ?? 'right-angled';
    for (const { graph, wires, boxes, faults } of look.judged()) {
      for (const [line, numbers] of faults.under) {
        const wire = must(wires[line]);
        const under = numbers.map((i) => must(boxes.nodes[i]));
        const [from, to] = [must(view.nodes.get(wire.from.node)), must(view.nodes.get(wire.to.node))];
        const said = say('wire-through-node', { from: caption(from), to: caption(to), nodes: under.map(caption) });
        // room around what is run through opens a way, at fewer new crossings than arranging all three
        const mend =
          style === 'right-angled'
            ? fix(
                'make-room',
                under.map((node) => node.id),
                { gap: 40 },
              )
            : fix('wire-style', [], { style: 'right-angled' });
        yield { graph, id: must(under[0]).id, ...said, ...mend };
      }
    }
  },
};
