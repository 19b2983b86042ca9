import { z } from 'zod';
import { selectedOrAll } from '../document/doc.ts';
import { captions, type GraphNode, tableShapes } from '../document/schema.ts';
import { Transaction } from '../edit/transaction.ts';
import { operation } from '../operation.ts';
import { plural } from '../words.ts';

type Detail = Partial<Pick<GraphNode, 'closed' | 'show' | 'caption' | 'picture' | 'pictureOff'>>;

/**
 * One operation that sets fields of detail; with nothing selected it means the whole graph. `of` answers undefined for
 * nodes that it does not touch.
 */
function detail<const Id extends string, Options extends z.ZodObject>(
  about: { id: Id; title: string; about: string; options: Options; done: string; asks?: true },
  of: (
    node: GraphNode,
    options: z.output<Options>,
  ) => { readonly [F in keyof Detail]?: Detail[F] | undefined } | undefined,
) {
  return operation({
    id: about.id,
    title: about.title,
    area: 'view',
    about: about.about,
    needs: { what: 'nodes', least: 0, all: true },
    options: about.options,
    changesFunction: false,
    preview: 'at-once',
    ...(about.asks && { asks: true }),
    run(_context, doc, selection, options) {
      const tx = new Transaction(doc);
      let touched = 0;
      for (const node of selectedOrAll(doc, selection)) {
        const fields = of(node, options);
        if (!fields) continue;
        touched++;
        for (const [field, value] of Object.entries(fields))
          tx.set('nodes', node.id, field as keyof Detail, value as never);
      }
      return { edit: tx.edit, report: { summary: `${about.done} ${plural(touched, 'node')}.`, findings: [] } };
    },
  });
}

const nothing = z.object({});

export const details = [
  detail(
    {
      id: 'open',
      title: 'Open nodes',
      about: 'Shows the ports of the selected nodes, or of all.',
      options: nothing,
      done: 'Opened',
    },
    (node) => (node.closed ? { closed: undefined } : undefined),
  ),
  detail(
    {
      id: 'close',
      title: 'Close nodes',
      about: 'Shows only the title of the selected nodes, or of all nodes. Wires stay visible.',
      options: nothing,
      done: 'Closed',
    },
    (node) => (node.closed ? undefined : { closed: true }),
  ),
  detail(
    {
      id: 'show-ports',
      title: 'Choose which ports show',
      about:
        'Shows all ports of the selected nodes, or of all nodes, or only those that are wired, main or match a text. A wired port is never hidden.',
      options: z.object({
        ports: z
          .enum(['all', 'some'])
          .default('some')
          .meta({ title: 'Ports', hint: 'some: wired ports, and those chosen here' }),
        main: z.boolean().default(false).meta({ title: 'Main ports too' }),
        text: z.string().max(100).default('').meta({ title: 'Also ports with this in their name' }),
      }),
      done: 'Chose the ports of',
      asks: true,
    },
    (node, { ports, main, text }) =>
      node.ports.length === 0
        ? undefined
        : {
            show:
              ports === 'all'
                ? undefined
                : { ...(main && { main: true as const }), ...(text.trim() !== '' && { text: text.trim() }) },
          },
  ),
  detail(
    {
      id: 'caption',
      title: 'Choose the caption',
      about:
        'Chooses the text on the selected nodes, or on all nodes: label or name with the kind, the name, the label, the kind, or nothing.',
      options: z.object({
        caption: z
          .enum(['usual', ...captions])
          .default('usual')
          .meta({ title: 'Caption' }),
      }),
      done: 'Captioned',
      asks: true,
    },
    (_node, { caption }) => ({ caption: caption === 'usual' ? undefined : caption }),
  ),
  detail(
    {
      id: 'show-pictures',
      title: 'Show pictures',
      about: 'Shows the pictures of the selected nodes, or of all.',
      options: nothing,
      done: 'Showing the picture of',
    },
    (node) => (node.picture === undefined ? undefined : { pictureOff: undefined }),
  ),
  detail(
    {
      id: 'hide-pictures',
      title: 'Hide pictures',
      about: 'Hides the pictures of the selected nodes, or of all; they stay in the file.',
      options: nothing,
      done: 'Hid the picture of',
    },
    (node) => (node.picture === undefined ? undefined : { pictureOff: true }),
  ),
];

/** Gives one node a picture, or takes it away. */
export const setPictures = operation({
  id: 'set-pictures',
  title: 'Set pictures',
  area: 'view',
  about: 'Gives each node its own small picture and shows it.',
  needs: { what: 'nothing', least: 0 },
  options: z.object({
    pictures: z
      .array(z.object({ node: z.string().min(1).max(200), picture: tableShapes.nodes.shape.picture.unwrap() }))
      .min(1)
      .max(1000)
      .meta({ title: 'Pictures' }),
  }),
  changesFunction: false,
  preview: 'at-once',
  run(_context, doc, _selection, { pictures }) {
    const tx = new Transaction(doc);
    const there = pictures.filter(({ node }) => doc.nodes.has(node));
    for (const { node, picture } of there) {
      tx.set('nodes', node, 'picture', picture);
      tx.set('nodes', node, 'pictureOff', undefined);
    }
    return { edit: tx.edit, report: { summary: `Set the pictures of ${plural(there.length, 'node')}.`, findings: [] } };
  },
});

export const setPicture = operation({
  id: 'set-picture',
  title: 'Set the picture',
  area: 'view',
  about: 'Gives the selected nodes a small picture, or removes it if you choose none.',
  needs: { what: 'nodes', least: 1 },
  asks: true,
  options: z.object({
    picture: tableShapes.nodes.shape.picture.meta({
      title: 'Picture',
      hint: 'PNG, JPEG or WebP; none removes it',
      choose: 'picture',
    }),
  }),
  changesFunction: false,
  preview: 'at-once',
  run(_context, doc, selection, { picture }) {
    const tx = new Transaction(doc);
    const nodes = selectedOrAll(doc, selection);
    for (const node of nodes) {
      tx.set('nodes', node.id, 'picture', picture);
      tx.set('nodes', node.id, 'pictureOff', undefined);
    }
    return {
      edit: tx.edit,
      report: {
        summary: `${picture === undefined ? 'Took the picture off' : 'Set the picture of'} ${plural(nodes.length, 'node')}.`,
        findings: [],
      },
    };
  },
});
