import { expect } from 'vitest';
import { type Doc, indexOf } from '../document/doc.ts';
import { Kinds } from '../document/kinds.ts';
import type { GraphNode } from '../document/schema.ts';
import { problems } from '../document/validate.ts';
import { apply } from '../edit/step.ts';
import { createContext } from '../operation.ts';
import { runOperation } from '../operations.ts';
import { testCatalogue, testKinds } from './arbitrary.ts';

/** The test kinds where loops are forbidden. */
export const strictKinds = new Kinds({ ...testCatalogue, loops: 'forbidden' });

/** Does an operation on the outermost graph; what comes of it has to be whole. */
export async function act(id: string, doc: Doc, items: readonly string[], options: unknown = {}, kinds = testKinds) {
  const { edit, report } = await runOperation(id, createContext(kinds, 1), doc, { graph: 'root', items }, options);
  const after = apply(doc, edit);
  expect(problems(after)).toEqual([]);
  return { doc: after, edit, report, fresh: [...after.nodes.values()].filter((node) => !doc.nodes.has(node.id)) };
}

/** An end written `node.port`; the port may have full stops of its own. */
export const ref = (end: string): { node: string; port: string } => ({
  node: end.slice(0, end.indexOf('.')),
  port: end.slice(end.indexOf('.') + 1),
});

/** What an input takes, as `node.port`, with ` off` where the wire is switched off. */
export function into(doc: Doc, end: string): string | undefined {
  const { node, port } = ref(end);
  const wire = indexOf(doc).wireInto(node, port);
  return wire && `${wire.from.node}.${wire.from.port}${wire.off ? ' off' : ''}`;
}

export const portIds = (node: GraphNode | undefined): string[] => node!.ports.map((port) => port.id);
