import { z } from 'zod';
import { caption, selectedNodes } from '../document/doc.ts';
import { parseDoc } from '../document/file.ts';
import type { GraphNode } from '../document/schema.ts';
import { UnreadableFile } from '../document/unreadable.ts';
import { Transaction } from '../edit/transaction.ts';
import type { Finding } from '../finding.ts';
import { must } from '../must.ts';
import { operation } from '../operation.ts';
import { makeOwn, useShared } from '../structure/shared-kinds.ts';
import { replaceKind } from '../wiring/replace.ts';
import { plural } from '../words.ts';
import { find, refuse } from './sentences.ts';
import { wiringOf } from './wire.ts';

export const useSharedKind = operation({
  id: 'use-shared',
  title: 'Use the shared kind',
  area: 'edit',
  about: 'Replaces the selected nested graph by a shared kind. Its wires go to the ports with the same names.',
  needs: { what: 'nodes', least: 1, most: 1 },
  options: z.object({ name: z.string().min(1).max(100).meta({ title: 'Shared kind', choose: 'shared-kind' }) }),
  changesFunction: true,
  preview: 'first',
  run(context, doc, selection, { name }) {
    const kind = context.kinds.newestShared(name);
    if (!kind) throw refuse('no-shared-kind', { name });
    const [host] = selectedNodes(doc, selection);
    const wiring = wiringOf(context, doc);
    const findings = useShared(wiring, must(host), kind);
    return {
      edit: wiring.tx.edit,
      report: {
        summary: `“${caption(must(host))}” is “${kind.title}”, version ${must(kind.shared).version}, now.`,
        findings,
      },
    };
  },
});

export const updateShared = operation({
  id: 'update-shared',
  title: 'Update shared kinds',
  area: 'edit',
  about:
    'Updates nodes of shared kinds to the newest version or a chosen one: the selected nodes, or all in the file. What cannot be kept is listed first.',
  needs: { what: 'nothing', least: 0 },
  asks: true,
  options: z.object({
    name: z
      .string()
      .max(100)
      .default('')
      .meta({ title: 'Only this one', hint: 'all where empty', choose: 'shared-kind' }),
    version: z.int().min(0).max(100_000).default(0).meta({ title: 'To version', hint: '0: the newest' }),
  }),
  changesFunction: true,
  preview: 'first',
  run(context, doc, selection, { name, version }) {
    const { kinds } = context;
    const chosen = selectedNodes(doc, selection);
    const goal = (node: GraphNode): string | undefined => {
      const { shared } = kinds.kind(node.kind) ?? {};
      if (!shared || (name !== '' && shared.name !== name)) return undefined;
      const to =
        version === 0 ? kinds.newestShared(shared.name) : kinds.kind(node.kind.replace(/\.\d+$/, `.${version}`));
      return to && to.id !== node.kind ? to.id : undefined;
    };
    const meant = (chosen.length > 0 ? chosen : [...doc.nodes.values()]).filter((node) => goal(node) !== undefined);
    if (meant.length === 0) throw refuse('nothing-to-update');
    const wiring = wiringOf(context, doc);
    const findings: Finding[] = [];
    for (const node of meant) {
      const to = must(goal(node));
      findings.push(
        find('shared-updated', 'info', [node.id], 'version-changes', {
          node: caption(node),
          from: must(must(kinds.kind(node.kind)).shared).version,
          to: must(must(kinds.kind(to)).shared).version,
        }),
      );
      findings.push(...replaceKind(wiring, must(wiring.tx.get('nodes', node.id)), to));
    }
    return {
      edit: wiring.tx.edit,
      report: { summary: `Updated ${plural(meant.length, 'node')} of shared kinds.`, findings },
    };
  },
});

export const makeOwnGraph = operation({
  id: 'make-own',
  title: 'Make it a graph of its own',
  area: 'edit',
  about:
    'Turns the selected node of a shared kind into a nested graph with the same contents, so that you can change it here only.',
  needs: { what: 'nodes', least: 1, most: 1 },
  options: z.object({
    body: z.string().max(64_000_000).meta({ title: 'What the version held', hint: 'as file text' }),
  }),
  changesFunction: true,
  preview: 'first',
  run(context, doc, selection, { body }) {
    const [node] = selectedNodes(doc, selection);
    const wiring = wiringOf(context, doc);
    try {
      const findings = makeOwn(wiring, must(node), parseDoc(body).doc, context.newId);
      return {
        edit: wiring.tx.edit,
        report: { summary: `“${caption(must(node))}” now has its own graph.`, findings },
      };
    } catch (error) {
      if (error instanceof UnreadableFile) throw refuse('version-unreadable', { error: error.message });
      throw error;
    }
  },
});

export const readWith = operation({
  id: 'read-with',
  title: 'Read with another catalogue',
  area: 'edit',
  about:
    'Chooses the version of the catalogue that the file uses. Nodes keep their ports; different defaults may change the results.',
  needs: { what: 'nothing', least: 0 },
  options: z.object({
    id: z.string().min(1).max(100).meta({ title: 'Catalogue' }),
    version: z.int().min(0).meta({ title: 'Version' }),
  }),
  changesFunction: true,
  preview: 'at-once',
  run(_context, doc, _selection, catalogue) {
    const tx = new Transaction(doc);
    tx.setHead('catalogue', catalogue);
    return {
      edit: tx.edit,
      report: { summary: `The file is read with version ${catalogue.version} of “${catalogue.id}”.`, findings: [] },
    };
  },
});
