import { z } from 'zod';
import { caption, indexOf } from '../document/doc.ts';
import { Transaction } from '../edit/transaction.ts';
import { finding } from '../finding.ts';
import { operation, Refused } from '../operation.ts';
import { connectProblem, connect as wire } from '../wiring/connect.ts';

const end = z.object({ node: z.string().min(1).max(200), port: z.string().min(1).max(200) });

export const connect = operation({
  id: 'connect',
  title: 'Connect two ports',
  area: 'wire',
  about: 'Wires an output to an input that takes its type.',
  needs: { what: 'nothing', least: 0 },
  options: z.object({
    from: end.meta({ title: 'Output' }),
    to: end.meta({ title: 'Input' }),
    replace: z.boolean().default(false).meta({ title: 'Take the place of a wire that is there' }),
  }),
  changesFunction: true,
  preview: 'at-once',
  run(context, doc, _selection, { from, to, replace }) {
    const problem = connectProblem(doc, context.kinds, from, to);
    if (problem) throw new Refused(problem);
    const old = indexOf(doc).wireInto(to.node, to.port);
    const target = doc.nodes.get(to.node)!;
    if (old && !replace) throw new Refused(`The input ${to.port} of “${caption(target)}” has a wire already; an input takes one.`);
    const tx = new Transaction(doc);
    wire(tx, context.kinds, from, to, context.newId);
    const source = doc.nodes.get(from.node)!;
    const replaced = old ? [finding('wire-replaced', 'info', [to.node], `The wire from “${caption(doc.nodes.get(old.from.node)!)}” gave way.`)] : [];
    return { edit: tx.edit, report: { summary: `Wired “${caption(source)}” to “${caption(target)}”.`, findings: replaced } };
  },
});
