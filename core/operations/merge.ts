import { z } from 'zod';
import { indexOf, selectedNodes } from '../document/doc.ts';
import { must } from '../must.ts';
import { operation } from '../operation.ts';
import { equalNodes, mergeEqual } from '../structure/merge.ts';
import { plural } from '../words.ts';
import { refuse } from './sentences.ts';
import { wiringOf } from './wire.ts';

export const merge = operation({
  id: 'merge',
  title: 'Merge equal nodes',
  area: 'wire',
  about:
    'Keeps one of several nodes that compute the same, and connects all their consumers to it: in the selection or the whole graph. The results stay the same.',
  needs: { what: 'nodes', least: 0, all: true },
  options: z.object({}),
  changesFunction: true,
  preview: 'first',
  run(context, doc, selection) {
    const chosen = new Set(selectedNodes(doc, selection).map((node) => node.id));
    if (chosen.size === 0) for (const node of indexOf(doc).nodesIn(selection.graph)) chosen.add(node.id);
    const groups = equalNodes(doc, context.kinds)
      .map((group) => group.filter((node) => chosen.has(node.id)))
      .filter((group) => group.length > 1);
    if (groups.length === 0) throw refuse('nothing-to-merge');
    const wiring = wiringOf(context, doc);
    const { gone, findings } = mergeEqual(wiring, groups);
    return {
      edit: wiring.tx.edit,
      report: {
        summary: `Merged ${plural(gone.length, 'node')} into ${plural(groups.length, 'equal one')}.`,
        findings,
        select: groups.map(([first]) => must(first).id),
      },
    };
  },
});
