import { parseColor } from '../color/contrast.ts';
import { frameColors, nodeColor, onColor, type Scheme, themed } from '../color/scheme.ts';
import { builtin } from '../document/builtin.ts';
import { type Doc, indexOf } from '../document/doc.ts';
import {
  flowOf,
  frameRects,
  framesAround,
  geometryOf,
  isVertical,
  type Point,
  type Rect,
  rectOf,
  tab,
  ticket,
  titleOf,
  unite,
} from '../document/geometry.ts';
import type { Id } from '../document/ids.ts';
import type { Kinds } from '../document/kinds.ts';
import { ellipsis, textWidth } from '../document/metrics.ts';
import type { GraphNode, Note } from '../document/schema.ts';
import { must } from '../must.ts';
import { isEnd } from '../remote/ends.ts';
import { routesOf } from '../route/route.ts';
import { rerouteLabel } from '../wiring/reroute.ts';
import { carriedType } from '../wiring/types.ts';
import type { SheetColors } from './colors.ts';
import { chamfer, isHollow, linkShape, linkTextLeft, markSize, type Sign, signOutlines } from './outlines.ts';
import { line, rect, type Shape } from './shapes.ts';
import { plainText, wrapped } from './wrap.ts';

/**
 * A graph as it is drawn at 100 % zoom, as shapes in pixels of the graph: frames below, then wires, nodes and notes,
 * titles of frames above all. `box` is what all of it takes; undefined where there is nothing. Expects the document as
 * it is shown, with folded frames folded. Cost: all routes of the graph, and O(nodes + ports + corners).
 */
export function graphShapes(
  doc: Doc,
  kinds: Kinds,
  graph: Id,
  colors: SheetColors,
  scheme: Scheme,
): { readonly shapes: readonly Shape[]; readonly box: Rect | undefined } {
  const frames = [...frameRects(doc, kinds, graph)]
    .map(([id, box]) => ({ frame: must(doc.frames.get(id)), box }))
    .sort((a, b) => framesAround(doc, a.frame).length - framesAround(doc, b.frame).length);
  const nodes = indexOf(doc).nodesIn(graph);
  const notes = [...doc.notes.values()].filter((note) => note.graph === graph);
  const routes = [...routesOf(doc, kinds, graph)].flatMap(([id, points]) =>
    doc.wires.has(id) ? [{ wire: must(doc.wires.get(id)), points }] : [],
  );
  const cut = (doc.head.wireStyle ?? 'right-angled') === 'right-angled';
  const hueOf = (type: string): string => colors.hues[kinds.type(type).hue] ?? colors.edge;
  const places = new Map<Id, Rect>([
    ...nodes.map((node): [Id, Rect] => [node.id, rectOf(doc, kinds, node)]),
    ...frames.map(({ frame, box }): [Id, Rect] => [frame.id, box]),
  ]);
  const shapes: Shape[] = [
    ...frames.map(({ frame, box }) => {
      const own = frameColors(frame.color, colors.theme);
      return rect(box, { fill: own?.fill ?? colors.frame, stroke: own?.edge ?? colors.frameEdge });
    }),
    ...routes.map(({ wire, points }) =>
      line(cut ? chamfered(points) : points, {
        stroke: hueOf(carriedType(doc, kinds, wire.from)),
        width: 1.4,
        ...(wire.off && { dash: [2, 5] }),
      }),
    ),
    ...notes.flatMap((note) => noteShapes(note, places, colors)),
    ...nodes.flatMap((node) => nodeShapes(doc, kinds, node, colors, scheme)),
    ...frames.flatMap(({ frame, box }) =>
      tabShapes(titleOf(frame), box, frameColors(frame.color, colors.theme), colors),
    ),
  ];
  const corners = routes.flatMap(({ points }) => points.map(({ x, y }) => ({ x, y, width: 0, height: 0 })));
  const tops = frames.map(({ box }) => ({ ...box, y: box.y - tab.height, height: box.height + tab.height }));
  return { shapes, box: unite([...places.values(), ...tops, ...notes, ...corners]) };
}

/** A route with its corners cut off. */
function chamfered(points: readonly Point[]): Point[] {
  return points.flatMap((at, i) => {
    const [before, after] = [points[i - 1], points[i + 1]];
    if (!before || !after) return [at];
    const [a, b] = [Math.hypot(before.x - at.x, before.y - at.y), Math.hypot(after.x - at.x, after.y - at.y)];
    const off = chamfer(a, b);
    if (off < 0.5) return [at];
    const toward = (to: Point, length: number): Point => ({
      x: at.x + ((to.x - at.x) / length) * off,
      y: at.y + ((to.y - at.y) / length) * off,
    });
    return [toward(before, a), toward(after, b)];
  });
}

function tabShapes(title: string, box: Rect, own: ReturnType<typeof frameColors>, colors: SheetColors): Shape[] {
  const text = ellipsis(title, 'bold', tab.titleSize, Math.max(box.width - 2 * tab.padX, 190));
  const wide = textWidth(text, 'bold', tab.titleSize) + 2 * tab.padX;
  const color = own?.onEdge ?? (colors.theme === 'night' ? colors.ink : '#26241f');
  return [
    rect({ x: box.x, y: box.y, width: wide, height: tab.height }, { fill: own?.edge ?? colors.frameEdge }),
    { type: 'text', x: box.x + tab.padX, y: box.y + 15.5, text, face: 'bold', size: tab.titleSize, color },
  ];
}

/** The mark of a type around a place. */
function markShape(sign: Sign, { x, y }: Point, look: { fill: string; stroke: string }): Shape {
  const outline = signOutlines[sign];
  const own = { ...look, width: 1.6 };
  if (!outline) return { type: 'ellipse', x, y, rx: markSize, ry: markSize, look: own };
  return line(
    outline.map(([px, py]) => ({ x: x + px * markSize, y: y + py * markSize })),
    own,
    true,
  );
}

function nodeShapes(doc: Doc, kinds: Kinds, node: GraphNode, colors: SheetColors, scheme: Scheme): Shape[] {
  const g = geometryOf(doc, kinds, node);
  const box = { x: node.x, y: node.y, width: g.width, height: g.height };
  const hue = nodeColor(kinds, node, scheme, colors.theme);
  const carried = isEnd(node.kind)
    ? kinds.type(
        carriedType(doc, kinds, {
          node: node.id,
          port: g.ports.find((port) => port.direction === 'out')?.id ?? g.ports[0]?.id ?? '',
        }),
      )
    : undefined;
  const ports = g.closed
    ? []
    : g.ports.map((port) => {
        const type = carried ?? kinds.type(port.type);
        const color = colors.hues[type.hue] ?? colors.edge;
        return markShape(
          type.sign,
          { x: node.x + port.x, y: node.y + port.y },
          { fill: isHollow(type.sign) ? colors.ticket : color, stroke: color },
        );
      });
  const edge = { stroke: colors.edge, width: 1, ...(node.bypassed && { dash: [4, 3] }) };
  if (g.shape === 'point') {
    const label = node.kind === builtin.reroute ? rerouteLabel(doc, node) : undefined;
    const text: Shape[] = label
      ? [
          {
            type: 'text',
            x: node.x + g.width / 2,
            y: node.y - 5,
            text: label.text,
            face: label.isOwn ? 'bold' : 'regular',
            size: 11,
            color: label.isOwn ? colors.ink : colors.soft,
            anchor: 'middle',
          },
        ]
      : [];
    return [rect(box, { fill: colors.panel, ...edge }), ...text];
  }
  if (g.shape === 'pennant' || g.shape === 'notch') {
    const { outline, band } = linkShape(g);
    const at = ([x, y]: readonly [number, number]): Point => ({ x: node.x + x, y: node.y + y });
    return [
      line(outline.map(at), { fill: colors.ticket, ...edge }, true),
      line(band.map(at), { fill: carried ? (colors.hues[carried.hue] ?? colors.edge) : hue }, true),
      {
        type: 'text',
        x: node.x + linkTextLeft(g.shape),
        y: node.y + g.height / 2 + 4,
        text: g.title,
        face: 'bold',
        size: 12,
        color: colors.ink,
      },
      ...ports,
    ];
  }
  const ink = onColor(parseColor(hue) ?? [128, 128, 128]);
  const left = node.x + ticket.spine + ticket.padX;
  const names: Shape[] =
    g.closed || isVertical(flowOf(doc, node.graph))
      ? []
      : g.ports.map((port) => ({
          ...{
            type: 'text',
            text: port.text,
            face: 'regular',
            size: ticket.portSize,
            color: colors.ink,
            y: node.y + port.y + 4,
          },
          ...(port.side === 'right' ? { x: node.x + g.width - 10, anchor: 'end' } : { x: left }),
        }));
  return [
    rect(box, { fill: colors.ticket, ...edge }),
    rect({ x: node.x + 1, y: node.y + 1, width: ticket.spine - 1, height: g.height - 2 }, { fill: hue }),
    {
      type: 'text',
      x: node.x + ticket.spine / 2,
      y: node.y + 21,
      text: kinds.code(node.kind),
      face: 'bold',
      size: 11,
      color: ink,
      anchor: 'middle',
    },
    { type: 'text', x: left, y: node.y + 15, text: g.title, face: 'bold', size: ticket.titleSize, color: colors.ink },
    ...(g.subtitle === ''
      ? []
      : [
          {
            type: 'text',
            x: left,
            y: node.y + 29,
            text: g.subtitle,
            face: 'regular',
            size: ticket.subtitleSize,
            color: colors.soft,
          } as const,
        ]),
    ...names,
    ...ports,
  ];
}

const noteSize = 12;

function noteShapes(note: Note, places: ReadonlyMap<Id, Rect>, colors: SheetColors): Shape[] {
  const color = themed(note.color, colors.theme);
  const middle = { x: note.x + note.width / 2, y: note.y + note.height / 2 };
  if (note.mark === 'ring')
    return [
      {
        type: 'ellipse',
        ...middle,
        rx: note.width / 2,
        ry: note.height / 2,
        look: { stroke: color ?? colors.warn, width: 3 },
      },
      ...caption(note, { x: note.x, y: note.y - 4 }, color ?? colors.warn),
    ];
  if (note.mark) {
    const [from, to] = [
      { x: note.x, y: note.y },
      { x: note.x + note.width, y: note.y + note.height },
    ];
    return [
      line([from, to], { stroke: color ?? colors.warn, width: 3 }),
      ...caption(note, { x: from.x, y: from.y - 4 }, color ?? colors.warn),
    ];
  }
  const target = note.tiedTo === undefined ? undefined : places.get(note.tiedTo);
  const within = (value: number, from: number, to: number): number => Math.max(from, Math.min(to, value));
  const goal = target && {
    x: within(middle.x, target.x, target.x + target.width),
    y: within(middle.y, target.y, target.y + target.height),
  };
  const leader = goal
    ? [
        line(
          [{ x: within(goal.x, note.x, note.x + note.width), y: within(goal.y, note.y, note.y + note.height) }, goal],
          { stroke: colors.soft, width: 1.2, dash: [1.5, 3] },
        ),
      ]
    : [];
  const most = Math.max(1, Math.floor((note.height - 10) / (noteSize * 1.3)));
  return [
    ...leader,
    rect(
      { x: note.x, y: note.y, width: note.width, height: note.height },
      { fill: colors.panel, stroke: color ?? colors.frameEdge },
    ),
    ...wrapped(plainText(note.text), 'regular', noteSize, note.width - 16)
      .slice(0, most)
      .map(
        (text, i): Shape => ({
          type: 'text',
          x: note.x + 8,
          y: note.y + 17 + i * noteSize * 1.3,
          text,
          face: 'regular',
          size: noteSize,
          color: colors.ink,
        }),
      ),
  ];
}

const caption = (note: Note, { x, y }: Point, color: string): Shape[] =>
  note.text === '' ? [] : [{ type: 'text', x, y, text: note.text, face: 'bold', size: 13, color }];
