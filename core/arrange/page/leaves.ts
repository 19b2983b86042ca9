import type { LayeredGraph } from '../layered/graph.ts';
import { Containers } from './containers.ts';
import { shareOut } from './hubs.ts';
import { type Unit, unitGraph } from './units.ts';

/** Nodes that a page lays out by themselves: each one's number, and the frame that each leaf lies in, or −1. */
export interface Leaves {
  readonly of: Int32Array;
  readonly frame: readonly number[];
}

/**
 * The parts of a graph that stand apart on a page, by its frames and wires alone, wherever its nodes lie: what a frame
 * holds beside inner frames, and in each of them the modules that are left without hubs. Routing asks for it too.
 * O(containers · cost of sharing out).
 */
export function leavesOf(graph: LayeredGraph): Leaves {
  const of = new Int32Array(graph.count).fill(-1);
  const frames: number[] = [];
  const containers = new Containers(graph);
  const walk = (frame: number): Unit | undefined => {
    const inner = containers.inner[frame + 1]!.flatMap((f) => walk(f) ?? []);
    const units = [...inner, ...containers.members[frame + 1]!.map((v) => containers.single(v))];
    if (units.length === 0) return undefined;
    const sharing = shareOut(unitGraph(graph, units, (v) => containers.wires[v]!));
    const groups = [...sharing.sources, ...sharing.ends, ...sharing.modules, ...sharing.strays.map((u) => [u])];
    for (const group of groups) {
      const nodes = group.filter((u) => units[u]!.frame < 0);
      if (nodes.length === 0) continue;
      for (const u of nodes) of[units[u]!.nodes[0]!] = frames.length;
      frames.push(frame);
    }
    const nodes = units.flatMap((unit) => unit.nodes);
    return { width: 0, height: 0, x: 0, y: 0, nodes, dx: nodes.map(() => 0), dy: nodes.map(() => 0), frame, sign: 0 };
  };
  walk(-1);
  return { of, frame: frames };
}
