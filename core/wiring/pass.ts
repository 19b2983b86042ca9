import type { Kinds } from '../document/kinds.ts';
import type { GraphNode, Port, Wire } from '../document/schema.ts';
import { portOf } from './types.ts';

/** What a bypassed node gives for one of its outputs: what comes in at an input, or one component of that. */
export interface Passed {
  readonly input: Port;
  readonly part?: string;
}

/**
 * The pass rule with components. A whole output: the input of `Kinds.passInput`. A component of an output: the same
 * component of the input that passes for the whole, where that is wired by itself; else that component of what the
 * input takes; where its type has none of that name, nothing.
 */
export function passes(
  kinds: Kinds,
  node: GraphNode,
  output: string,
  wireInto: (port: string) => Wire | undefined,
): Passed | undefined {
  const port = portOf(node, output, 'out');
  if (port?.of === undefined) {
    const input = kinds.passInput(node, output);
    return input && { input };
  }
  const whole = kinds.passInput(node, port.of);
  if (!whole) return undefined;
  const part = port.id.slice(port.of.length + 1);
  const own = portOf(node, `${whole.id}.${part}`, 'in');
  if (own && wireInto(own.id)) return { input: own };
  return hasPart(kinds, whole.type, part) ? { input: whole, part } : undefined;
}

export function hasPart(kinds: Kinds, type: string, part: string): boolean {
  return kinds.type(type).components.some((component) => component.name === part);
}

/** The component of a port, by id. */
export const partId = (port: string, part: string): string => `${port}.${part}`;
