import type { Scheme } from '../color/scheme.ts';
import type { Doc } from '../document/doc.ts';
import type { Rect } from '../document/geometry.ts';
import type { Kinds } from '../document/kinds.ts';
import { ellipsis, type Face } from '../document/metrics.ts';
import { must } from '../must.ts';
import type { SheetColors } from '../sheet/colors.ts';
import { graphShapes } from '../sheet/graph.ts';
import { extentOf, line, rect, type Shape, type Sheet } from '../sheet/shapes.ts';
import { wrapped } from '../sheet/wrap.ts';
import { foldedView } from '../structure/fold.ts';
import { plural } from '../words.ts';
import type { Handover } from './handover.ts';

/** A3 across (ISO 216: 420 × 297 mm), in points of 1/72 inch, and the margin that printers leave. */
export const a3 = { width: 1190.55, height: 841.89, margin: 28 } as const;

/** The smallest letters that are read at arm’s length, in points; names in nodes have 13 pixels. */
const leastLetters = 6;
const leastScale = leastLetters / 13;
/** What stands beside the picture, in points. */
const aside = 250;
const header = 62;
const edge = 8;
const mostListed = 12;
/** A poster has no more sheets than that: past it the parts of the picture are smaller. */
const mostSheets = 30;

/** Words set below one another in a column, as far as there is room. */
class Column {
  readonly shapes: Shape[] = [];
  private y: number;
  private readonly box: Rect;
  private readonly colors: SheetColors;
  private isFull = false;

  constructor(box: Rect, colors: SheetColors) {
    this.box = box;
    this.colors = colors;
    this.y = box.y;
  }

  write(
    text: string,
    {
      face = 'regular',
      size = 9,
      color = this.colors.ink,
      indent = 0,
    }: { face?: Face; size?: number; color?: string; indent?: number } = {},
  ): void {
    for (const one of wrapped(text, face, size, this.box.width - indent)) {
      if (this.isFull) return;
      if (this.y + size * 2.4 > this.box.y + this.box.height) {
        this.isFull = true;
        this.shapes.push({
          type: 'text',
          x: this.box.x,
          y: this.y + size,
          text: '… more on the page of the file',
          face: 'regular',
          size: 8,
          color: this.colors.soft,
        });
        return;
      }
      this.shapes.push({ type: 'text', x: this.box.x + indent, y: this.y + size, text: one, face, size, color });
      this.y += size * 1.32;
    }
  }

  /** The first of many, so that what comes below has room too. */
  list(items: readonly string[]): void {
    for (const item of items.slice(0, mostListed)) this.write(item);
    if (items.length > mostListed)
      this.write(`and ${items.length - mostListed} more`, { color: this.colors.soft, size: 8 });
  }

  head(text: string): void {
    if (this.y > this.box.y) this.y += 9;
    this.write(text, { face: 'bold', size: 11 });
    this.y += 2;
  }
}

function facts(handover: Handover, box: Rect, colors: SheetColors): Shape[] {
  const column = new Column(box, colors);
  const soft = { color: colors.soft, size: 8 } as const;
  const [root] = handover.graphs;
  column.head('Frames and notes');
  for (const frame of root?.frames ?? []) {
    column.write(`${frame.title}, ${plural(frame.nodes, 'node')}`, {
      indent: frame.depth * 10,
      face: frame.depth === 0 ? 'bold' : 'regular',
    });
    for (const note of frame.notes) column.write(note, { indent: frame.depth * 10 + 8, ...soft });
  }
  if (root?.frames.length === 0) column.write('No frames.', soft);
  for (const note of root?.notes ?? []) column.write(note, { indent: 8, ...soft });
  if (handover.graphs.length > 1) {
    column.head('Nested graphs');
    for (const graph of handover.graphs.slice(1)) column.write(`${graph.path}, ${plural(graph.nodes, 'node')}`);
  }
  column.head('What it is for');
  column.list(handover.outputs.map((one) => `${one.name}${one.about ? `: ${one.about}` : ''}`));
  column.head('What it reads');
  if (handover.inputs.length === 0) column.write('Nothing from outside.', soft);
  column.list(handover.inputs.map((one) => `${one.name}: ${one.about}`));
  if (handover.shared.length > 0) {
    column.head('Shared kinds');
    for (const one of handover.shared)
      column.write(`${one.title}, version ${one.version}: ${plural(one.count, 'node')}`);
  }
  column.head('Open findings');
  if (handover.findings.rules.length === 0) column.write('None.', soft);
  for (const rule of handover.findings.rules)
    column.write(`${rule.title}: ${rule.count.toLocaleString('en')}`, {
      color: rule.severity === 'info' ? colors.ink : colors.warn,
      face: rule.severity === 'error' ? 'bold' : 'regular',
    });
  return column.shapes;
}

function heading(handover: Handover, colors: SheetColors, part: string): Shape[] {
  const wide = a3.width - 2 * a3.margin;
  const { counts, findings } = handover;
  const said = `${handover.project}, revision ${handover.revision} by ${handover.author}, ${handover.at}: “${handover.message}”`;
  const numbers = `${plural(counts.nodes, 'node')}, ${plural(counts.wires, 'wire')}, ${plural(counts.frames, 'frame')} · readability ${Math.round(handover.score)} of 100 · ${plural(findings.counts.error, 'error')}, ${plural(findings.counts.warning, 'warning')}`;
  return [
    {
      type: 'text',
      x: a3.margin,
      y: a3.margin + 20,
      text: ellipsis(handover.title, 'bold', 22, wide - 260),
      face: 'bold',
      size: 22,
      color: colors.ink,
    },
    {
      type: 'text',
      x: a3.margin,
      y: a3.margin + 36,
      text: ellipsis(said, 'regular', 9.5, wide - 260),
      face: 'regular',
      size: 9.5,
      color: colors.soft,
    },
    {
      type: 'text',
      x: a3.width - a3.margin,
      y: a3.margin + 20,
      text: part,
      face: 'bold',
      size: 11,
      color: colors.ink,
      anchor: 'end',
    },
    {
      type: 'text',
      x: a3.width - a3.margin,
      y: a3.margin + 36,
      text: numbers,
      face: 'regular',
      size: 9.5,
      color: colors.soft,
      anchor: 'end',
    },
    line(
      [
        { x: a3.margin, y: a3.margin + 46 },
        { x: a3.width - a3.margin, y: a3.margin + 46 },
      ],
      { stroke: colors.line, width: 0.8 },
    ),
  ];
}

/**
 * A file as sheets of A3: first all of it beside what is to be known; where names could not be read on that, its
 * outermost graph in parts, row by row, at a size that can. Cost: all routes of the outermost graph, and O(shapes ·
 * sheets).
 */
export function posterSheets(doc: Doc, kinds: Kinds, handover: Handover, colors: SheetColors, scheme: Scheme): Sheet[] {
  const view = foldedView(doc, kinds);
  const { shapes, box: tight } = graphShapes(view, kinds, doc.head.root, colors, scheme);
  // room for the lines and marks at its edges
  const box = tight && {
    x: tight.x - edge,
    y: tight.y - edge,
    width: tight.width + 2 * edge,
    height: tight.height + 2 * edge,
  };
  const top = a3.margin + header;
  const room = {
    x: a3.margin,
    y: top,
    width: a3.width - 2 * a3.margin - aside - 18,
    height: a3.height - top - a3.margin,
  };
  const sheet = (own: readonly Shape[]): Sheet => ({
    width: a3.width,
    height: a3.height,
    ground: colors.ground,
    shapes: own,
  });
  const beside = facts(handover, { x: room.x + room.width + 18, y: top, width: aside, height: room.height }, colors);
  const scale = box ? Math.min(1.2, room.width / box.width, room.height / box.height) : 1;
  const extents = shapes.map(extentOf);
  const placed = (at: Rect, from: { x: number; y: number }, by: number): Shape => {
    // a sheet holds what is seen on it, and not all that is cut off
    const [right, bottom] = [from.x + at.width / by, from.y + at.height / by];
    const seen = shapes.filter((_, i) => {
      const { x, y, width, height } = must(extents[i]);
      return x <= right + 4 && x + width >= from.x - 4 && y <= bottom + 4 && y + height >= from.y - 4;
    });
    return { type: 'group', shapes: seen, x: at.x - from.x * by, y: at.y - from.y * by, scale: by, clip: at };
  };
  const picture: Shape[] = box
    ? [placed(room, box, scale)]
    : [
        {
          type: 'text',
          x: room.x,
          y: room.y + 20,
          text: 'The graph is empty.',
          face: 'regular',
          size: 12,
          color: colors.soft,
        },
      ];
  if (!box || scale >= leastScale) return [sheet([...heading(handover, colors, ''), ...picture, ...beside])];
  const whole = { x: a3.margin, y: top, width: a3.width - 2 * a3.margin, height: room.height };
  let by = leastScale;
  const grid = (): [number, number] => [
    Math.ceil((box.width * by) / whole.width),
    Math.ceil((box.height * by) / whole.height),
  ];
  while (grid()[0] * grid()[1] > mostSheets - 1) by *= 0.95;
  const [columns, rows] = grid();
  const part = (i: number, k: number): string => `Part ${i + 1}.${k + 1} of ${rows}.${columns}`;
  const cells: Shape[] = [];
  const parts: Sheet[] = [];
  for (let i = 0; i < rows; i++)
    for (let k = 0; k < columns; k++) {
      const from = { x: box.x + (k * whole.width) / by, y: box.y + (i * whole.height) / by };
      parts.push(sheet([...heading(handover, colors, part(i, k)), placed(whole, from, by)]));
      const cell = {
        x: room.x + (from.x - box.x) * scale,
        y: room.y + (from.y - box.y) * scale,
        width: (whole.width / by) * scale,
        height: (whole.height / by) * scale,
      };
      const shown = {
        ...cell,
        width: Math.min(cell.width, room.x + room.width - cell.x),
        height: Math.min(cell.height, room.y + room.height - cell.y),
      };
      cells.push(rect(shown, { stroke: colors.accent, width: 0.7, dash: [4, 3] }), {
        type: 'text',
        x: cell.x + 4,
        y: cell.y + 12,
        text: `${i + 1}.${k + 1}`,
        face: 'bold',
        size: 10,
        color: colors.accent,
      });
    }
  return [
    sheet([
      ...heading(handover, colors, `All of it; parts 1.1 to ${rows}.${columns} follow`),
      ...picture,
      ...cells,
      ...beside,
    ]),
    ...parts,
  ];
}
