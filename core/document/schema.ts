import { z } from 'zod';
import type { Json } from './json.ts';

// The shapes are strict for the compiler and loose at the door: fields that we do not know stay on their object.

const id = z.string().min(1).max(200).describe('Unique over the whole document.');
const px = z.number().describe('Pixels at 100 % zoom.');
const jsonValue: z.ZodType<Json> = z.json();

export const captions = ['name', 'label', 'kind', 'nothing'] as const;
export type Caption = (typeof captions)[number];

export const flowSchema = z.enum(['right', 'down', 'left', 'up']);
export type Flow = z.infer<typeof flowSchema>;

/** Plain drawn marks for pointing at things. */
export const marks = ['arrow', 'line', 'ring'] as const;
export const corners = ['top-left', 'top-right', 'bottom-left', 'bottom-right'] as const;
/** Labels are short on the canvas, and may be as long as other programs have them. */
export const mostLabel = 10_000;
const color = z.string().max(30).describe('Own colour, as #rrggbb.');
const settingName = z.string().min(1).max(100);
/** The name of the setting that a node has before it is given one. */
export const firstSetting = 'Standard';

export const attributeTypes = ['text', 'number', 'integer', 'boolean', 'json', 'xml'] as const;
export type AttributeType = (typeof attributeTypes)[number];
/** What may carry attributes. */
export const attributeBearers = ['graph', 'node', 'wire', 'port', 'frame', 'note'] as const;
export type AttributeBearer = (typeof attributeBearers)[number];
/** What of ours an attribute of another program stands for: it is read into that, and written from it. */
export const attributeMeanings = ['label', 'color', 'x', 'y', 'width', 'height'] as const;
export type AttributeMeaning = (typeof attributeMeanings)[number];

const attributesShape = z
  .record(z.string().min(1).max(200), jsonValue)
  .optional()
  .describe('What other programs and people say of it beside, by name. It means nothing for what is computed.');
const foreignId = z
  .string()
  .max(10_000)
  .optional()
  .describe('Its id in the file that it came from, where it has another here.');
const directionShape = z.enum(['directed', 'undirected', 'both']);

/** Keeps unknown fields at run time without loosening the type that the compiler sees. */
function loose<T extends z.ZodObject>(shape: T): T {
  return shape.loose() as unknown as T;
}

const portShape = loose(
  z.object({
    id: z.string().min(1).max(200),
    name: z.string().max(200),
    type: z.string().max(100),
    direction: z.enum(['in', 'out']),
    of: z
      .string()
      .min(1)
      .max(200)
      .optional()
      .describe(
        'Components: the compound port that this one is a part of. Its own id is that port’s, a full stop, and the name of the component.',
      ),
    foreign: z
      .string()
      .max(200)
      .optional()
      .describe('The port as another program names it; empty where its wire named no port.'),
    attributes: attributesShape,
  }),
);
/** A snapshot of a port, so that nodes of unknown kinds still draw. Ids are unique in their node and side. */
export type Port = z.infer<typeof portShape>;

const endShape = loose(z.object({ node: id, port: z.string().min(1).max(200) }));
/** One end of a wire. */
export type PortRef = z.infer<typeof endShape>;

const graphShape = loose(
  z.object({
    id,
    name: z.string().max(200),
    flow: flowSchema.optional().describe('Which way data flows; right where absent.'),
    undirected: z.literal(true).optional().describe('The program that it came from gives its edges no direction.'),
    strict: z.literal(true).optional().describe('The program that it came from allows one edge between two nodes.'),
    attributes: attributesShape,
    foreignId,
  }),
);
export type Graph = z.infer<typeof graphShape>;
/** What a graph says beside its id, to go along where there is one graph only. */
export const graphFields = graphShape.omit({ id: true, attributes: true });

const nodeShape = loose(
  z.object({
    id,
    graph: id.describe('The graph that the node lies in.'),
    kind: z
      .string()
      .min(1)
      .max(200)
      .describe('By its id in the catalogue; `foreign.node` for nodes of other programs.'),
    name: z.string().max(200).describe('Unique in its graph.'),
    label: z.string().max(mostLabel).optional().describe('What people see, where that is not the name.'),
    x: px.describe('Left edge; y grows downwards.'),
    y: px.describe('Top edge.'),
    frame: id.optional().describe('The innermost frame that the node is a member of.'),
    outerFrame: id
      .optional()
      .describe('Nested nodes: the frame outside that they came from, to which unnesting brings them back.'),
    inner: id.optional().describe('Nested nodes: the graph inside.'),
    covers: id
      .optional()
      .describe('Standing feeds: the frame or graph around that it supplies, where that is not what it stands in.'),
    beacon: z
      .object({ id: id.optional(), name: z.string().max(200) })
      .optional()
      .describe('Taps: the beacon listened to.'),
    pinned: z.literal(true).optional().describe('Arranging leaves it where it is.'),
    bypassed: z.literal(true).optional().describe('Passes its input on untouched.'),
    size: z.object({ width: px, height: px }).optional().describe('Overrides the computed size; comes with imports.'),
    color: color.optional(),
    sets: z.record(id, z.literal(true)).optional().describe('The named sets that the node is in.'),
    locked: z.literal(true).optional().describe('Its parameters are not to be changed.'),
    setting: settingName.optional().describe('What the present values of its parameters are called.'),
    settings: z
      .record(settingName, z.record(z.string(), jsonValue))
      .optional()
      .describe('Its other settings: the parameters that are set in each.'),
    closed: z.literal(true).optional().describe('Drawn as its head alone, all wires at its middle.'),
    show: z
      .object({ main: z.literal(true).optional(), text: z.string().max(100).optional() })
      .optional()
      .describe(
        'Which ports show beside the wired ones: the main ones, those whose name holds the text, or both. All where absent.',
      ),
    caption: z.enum(captions).optional().describe('What stands on the node; its label, else its name, where absent.'),
    picture: z
      .string()
      .max(100_000)
      .regex(
        /^data:image\/(png|jpeg|webp);base64,[A-Za-z0-9+/]+=*$/,
        'is not a small PNG, JPEG or WebP picture as a data address',
      )
      .optional()
      .describe('A small picture, 16:9, as a data address.'),
    pictureOff: z.literal(true).optional().describe('The picture is there, and hidden.'),
    ports: z.array(portShape),
    params: z.record(z.string(), jsonValue).optional().describe('Only parameters that were set.'),
    attributes: attributesShape,
    foreignId,
  }),
);
export type GraphNode = z.infer<typeof nodeShape>;

const wireShape = loose(
  z.object({
    id,
    from: endShape.describe('An output port.'),
    to: endShape.describe('An input port; it takes one wire.'),
    off: z.literal(true).optional().describe('Switched off: its input counts as open, and no feed fills it.'),
    direction: directionShape
      .optional()
      .describe('How the program that it came from directs it, where that is not what its graph says.'),
    attributes: attributesShape,
    foreignId,
  }),
);
export type Wire = z.infer<typeof wireShape>;

const frameShape = loose(
  z.object({
    id,
    graph: id,
    title: z.string().max(500),
    parent: id.optional().describe('The frame around this one.'),
    x: px,
    y: px,
    width: px,
    height: px.describe('The rectangle counts while the frame is empty; else it fits its members.'),
    pad: z.object({ left: px, top: px, right: px, bottom: px }).optional().describe('Margin around the members.'),
    color: color.optional(),
    note: z.string().max(20000).optional(),
    outerFrame: id.optional().describe('Nested frames: the frame outside that they came from.'),
    folded: z.literal(true).optional().describe('Drawn as one block with the wires that cross its edge.'),
    order: z
      .int()
      .optional()
      .describe('Frames with a higher number lie in front; among equal ones the larger lie behind.'),
    attributes: attributesShape,
    foreignId,
  }),
);
export type Frame = z.infer<typeof frameShape>;

const noteShape = loose(
  z.object({
    id,
    graph: id,
    x: px,
    y: px,
    width: px,
    height: px,
    text: z.string().max(20000).describe('Markdown.'),
    tiedTo: id.optional().describe('The node or frame that it speaks of.'),
    mark: z.enum(marks).optional().describe('Drawn as a mark for pointing at things, with its text beside it.'),
    towards: z
      .enum(corners)
      .optional()
      .describe('Arrows and lines: the corner of the rectangle that they lead to, from the one across.'),
    color: color.optional(),
    attributes: attributesShape,
    foreignId,
  }),
);
export type Note = z.infer<typeof noteShape>;

export const tableShapes = {
  graphs: graphShape,
  nodes: nodeShape,
  wires: wireShape,
  frames: frameShape,
  notes: noteShape,
};
/** The fields of a node that say how it is shown, and nothing of what it computes. */
export const detailFields = { closed: true, show: true, caption: true, picture: true, pictureOff: true } as const;
/** The fields that came later than the others and that other formats carry together. */
export const laterFields = {
  nodes: { outerFrame: true, covers: true, sets: true, locked: true, setting: true, settings: true },
  frames: { outerFrame: true, folded: true, order: true },
  notes: { mark: true, towards: true, color: true },
} as const;
export type TableName = keyof typeof tableShapes;
export const tableNames: readonly TableName[] = ['graphs', 'frames', 'nodes', 'wires', 'notes'];

const declaredShape = loose(
  z.object({
    of: z.enum(attributeBearers),
    name: z.string().min(1).max(200).describe('As records have it.'),
    type: z.enum(attributeTypes),
    title: z.string().max(1000).optional().describe('As the file calls it, where it has another name here.'),
    from: z.string().max(20).optional().describe('The format that it came from.'),
    key: z.string().max(200).optional().describe('The id that it is declared with there.'),
    means: z.enum(attributeMeanings).optional(),
    default: jsonValue.optional(),
    more: z.record(z.string().max(200), z.string()).optional().describe('What else that format declares of it.'),
  }),
);
/** An attribute as it was declared. */
export type Declared = z.infer<typeof declaredShape>;

/** The kinds of record in each table. */
export interface Records {
  graphs: Graph;
  nodes: GraphNode;
  wires: Wire;
  frames: Frame;
  notes: Note;
}

export const wireStyles = ['right-angled', 'curved', 'straight'] as const;
export type WireStyle = (typeof wireStyles)[number];

export const headShape = z.object({
  format: z.literal('basitax-graph'),
  version: z.literal(1),
  id,
  title: z.string().max(300),
  catalogue: z
    .object({ id: z.string().max(100), version: z.int().min(0) })
    .describe('The catalogue of kinds that the file was made with.'),
  root: id.describe('The outermost graph.'),
  sets: z
    .record(id, z.object({ name: z.string().min(1).max(200) }))
    .optional()
    .describe('Named sets of nodes.'),
  attributes: z
    .record(z.string().min(1).max(200), declaredShape)
    .optional()
    .describe('What is known of attributes, by what carries them and their name, such as “node weight”.'),
  wireStyle: z.enum(wireStyles).optional().describe('How wires are drawn; right-angled where absent.'),
});
export type Head = z.infer<typeof headShape>;

/** The file as it stands on disk: `*.graph.json`, UTF-8. */
export const fileSchema = headShape
  .extend({
    graphs: z.array(graphShape).min(1),
    frames: z.array(frameShape).default([]),
    nodes: z.array(nodeShape),
    wires: z.array(wireShape).default([]),
    notes: z.array(noteShape).default([]),
  })
  .loose();
