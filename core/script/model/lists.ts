import type { ScriptNode, ScriptNodes, ScriptRect, ScriptReport, ScriptSet, ScriptValue } from '../api.ts';
import { objects } from './objects.ts';
import { at, performOn } from './perform.ts';
import { ask, byId, placeOf, ScriptError } from './store.ts';

// Runs inside the sandbox: lists of nodes.

class Nodes extends Array<ScriptNode> {
  // what is made of a list by map and the like is a plain one
  static override get [Symbol.species](): ArrayConstructor {
    return Array;
  }
  override *[Symbol.iterator](): ArrayIterator<ScriptNode> {
    for (let i = 0; i < this.length; i++) {
      const node = this[i]!;
      at.node = node.id;
      yield node;
    }
    at.node = undefined;
  }
  override forEach(use: (node: ScriptNode, i: number, all: ScriptNode[]) => void): void {
    let i = 0;
    for (const node of this) use(node, i++, this);
  }
  get bounds(): ScriptRect | undefined {
    if (this.length === 0) return undefined;
    let [left, top, right, bottom] = [Infinity, Infinity, -Infinity, -Infinity];
    for (let i = 0; i < this.length; i++) {
      const node = this[i]!;
      [left, top] = [Math.min(left, node.x), Math.min(top, node.y)];
      [right, bottom] = [Math.max(right, node.x + node.width), Math.max(bottom, node.y + node.height)];
    }
    return { x: left, y: top, width: right - left, height: bottom - top };
  }
  inFlowOrder(): ScriptNodes {
    return sorted(this, (a, b) => placeOf(a.id) - placeOf(b.id));
  }
  upstream(): ScriptNodes {
    return reach(this, false);
  }
  downstream(): ScriptNodes {
    return reach(this, true);
  }
  byPlace(): ScriptNodes {
    return sorted(this, (a, b) => a.x - b.x || a.y - b.y || byId(a.id, b.id));
  }
  having(parameter: string): ScriptNodes {
    return listOf([...this].filter((node) => node.has(parameter)).map((node) => node.id));
  }
  set(parameter: string, value: ScriptValue, how?: ScriptSet): number {
    let count = 0;
    for (const node of this) if (node.set(parameter, value, how)) count++;
    return count;
  }
  run(operation: string, options?: object): ScriptReport {
    return performOn(operation, [...this], options);
  }
  remove(how?: { heal?: boolean }): ScriptReport {
    return performOn(how?.heal === false ? 'delete-with-wires' : 'delete', [...this]);
  }
}

// what a node has, a list has not: a slip of the pen would otherwise be a property that nobody reads
for (const field of ['label', 'name', 'color', 'bypassed', 'pinned', 'x', 'y'])
  Object.defineProperty(Nodes.prototype, field, {
    set() {
      throw new ScriptError(
        `A list of nodes has no “${field}”; go through it: for (const node of nodes) node.${field} = …`,
      );
    },
    get() {
      throw new ScriptError(`A list of nodes has no “${field}”; ask its nodes one by one.`);
    },
  });

/** All that feeds some nodes, or that they feed. */
export const reach = (from: readonly ScriptNode[], down: boolean, steps?: number): ScriptNodes =>
  listOf(ask({ do: 'reach', nodes: from.map((node) => node.id), down, steps: steps ?? null }) as string[]);

export function listOf(ids: readonly string[]): ScriptNodes {
  const list = new Nodes();
  for (const id of ids) list.push(objects.nodeOf(id));
  return list as unknown as ScriptNodes;
}

const sorted = (list: Nodes, order: (a: ScriptNode, b: ScriptNode) => number): ScriptNodes =>
  listOf([...list].sort(order).map((node) => node.id));

objects.listOf = listOf;
