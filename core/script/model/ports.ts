import type { ScriptNode, ScriptPort, ScriptWire } from '../api.ts';
import type { PortRow } from '../bridge.ts';
import { objects } from './objects.ts';
import { perform } from './perform.ts';
import { wiresAt } from './store.ts';

// Runs inside the sandbox: ports of nodes.

/** A port of a node. */
export class PortModel implements ScriptPort {
  readonly node: ScriptNode;
  private readonly row: PortRow;
  constructor(node: ScriptNode, row: PortRow) {
    this.node = node;
    this.row = row;
  }
  get id(): string {
    return this.row.id;
  }
  get name(): string {
    return this.row.name;
  }
  get type(): string {
    return this.row.type;
  }
  get direction(): 'in' | 'out' {
    return this.row.direction;
  }
  get wires(): readonly ScriptWire[] {
    return wiresAt(this.row.direction, this.node.id, this.id).map(objects.wireOf);
  }
  connect(other: ScriptPort, how: { replace?: boolean } = {}): void {
    const [from, to] = (other as PortModel).direction === 'out' ? [other, this] : [this, other];
    const end = (port: ScriptPort): object => ({ node: port.node.id, port: port.id });
    perform(
      'connect',
      from.node.graph.id,
      [],
      { from: end(from), to: end(to), replace: how.replace === true },
      to.node.id,
    );
  }
  beacon(name?: string): ScriptNode {
    const { made } = perform(
      'beacon',
      this.node.graph.id,
      [this.node.id],
      { output: this.id, ...(name !== undefined && { name }) },
      this.node.id,
    );
    return made[0]!;
  }
}
