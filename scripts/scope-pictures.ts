import { builtin } from '@basitax/core/document/builtin';
import { type Doc, indexOf } from '@basitax/core/document/doc';
import { textWidth } from '@basitax/core/document/metrics';
import type { GraphNode } from '@basitax/core/document/schema';
import { must } from '@basitax/core/must';
import { type ScopeCase, scopeCases } from '@basitax/core/tests/scope-cases';

// Draws who hears whom: graphs and frames as boxes in one another, ends in two columns, a dashed line for each answer.

const [itemHeight, gap, pad, titleHeight] = [24, 10, 12, 24];
const ink = '#26241f';
const looks = { graph: { fill: '#fdfaf3', edge: '#8b8577' }, frame: { fill: '#efe7d6', edge: '#b9ac8f' } };
const [link, lost] = ['#1b6ea8', '#b3401f'];

interface Box {
  readonly width: number;
  readonly height: number;
  draw(x: number, y: number, places: Map<string, Place>): string;
}
interface Place {
  readonly x: number;
  readonly y: number;
  readonly width: number;
}

const escaped = (text: string): string => text.replace(/&/g, '&amp;').replace(/</g, '&lt;');
const words = (text: string, x: number, y: number, more = ''): string =>
  `<text x="${x}" y="${y}" ${more}>${escaped(text)}</text>`;

/** What stands for a node: its name, for a node that takes with the inputs that are asked about. */
function captionOf(one: ScopeCase, node: GraphNode): string {
  if (node.kind === builtin.tap)
    return `tap of ${node.beacon?.name}${node.beacon?.id === undefined ? ', by name' : node.beacon.id === 'deleted' ? ', beacon deleted' : ''}`;
  if (node.kind === builtin.beacon) return `beacon ${node.name}`;
  if (node.kind === builtin.feed) return `feed for ${String(node.params?.types)}${node.bypassed ? ', bypassed' : ''}`;
  const asked = Object.keys(one.supplies ?? {}).flatMap((input) =>
    input.startsWith(`${node.id}.`) ? [input.slice(node.id.length + 1)] : [],
  );
  const wire = indexOf(one.doc)
    .wiresInto(node.id)
    .find((entry) => asked.includes(entry.to.port));
  const state = wire ? (wire.off ? ', wire switched off' : ', wired') : node.bypassed ? ', bypassed' : '';
  return asked.length > 0 ? `${asked.join(', ')} of ${node.name}${state}` : node.name;
}

const isGiver = (one: ScopeCase, node: GraphNode): boolean =>
  node.kind === builtin.beacon ||
  node.kind === builtin.feed ||
  (node.kind !== builtin.tap && !Object.keys(one.supplies ?? {}).some((input) => input.startsWith(`${node.id}.`)));

function itemBox(one: ScopeCase, node: GraphNode): Box {
  const text = captionOf(one, node);
  // whoever reads the page may lack our font: room for a wider one
  const width = Math.ceil(textWidth(text, 'regular', 12) * 1.2) + 22;
  const isLost =
    node.kind === builtin.tap && one.hears !== undefined && one.hears[node.id] === undefined && node.id in one.hears;
  const outline = (x: number, y: number): string => {
    const [r, b, m] = [x + width, y + itemHeight, y + itemHeight / 2];
    if (node.kind === builtin.beacon) return `M${x} ${y}H${r - 8}L${r} ${m}L${r - 8} ${b}H${x}Z`;
    if (node.kind === builtin.tap) return `M${x} ${y}H${r}V${b}H${x}L${x + 8} ${m}Z`;
    return `M${x} ${y}H${r}V${b}H${x}Z`;
  };
  return {
    width,
    height: itemHeight,
    draw(x, y, places) {
      places.set(node.id, { x, y, width });
      const edge = isLost ? lost : '#6d675a';
      return `<path d="${outline(x, y)}" fill="#ffffff" stroke="${edge}"${isLost ? ' stroke-dasharray="3 2"' : ''}/>${words(text, x + (node.kind === builtin.tap ? 14 : 9), y + 16)}`;
    },
  };
}

const column = (boxes: readonly Box[]): { width: number; height: number } => ({
  width: boxes.reduce((most, box) => Math.max(most, box.width), 0),
  height: boxes.reduce((sum, box) => sum + box.height + gap, -gap),
});

/** A graph or frame: its title, givers on the left and takers on the right, and what lies within below. */
function container(
  one: ScopeCase,
  title: string,
  look: keyof typeof looks,
  nodes: readonly GraphNode[],
  within: readonly Box[],
): Box {
  const givers = nodes.filter((node) => isGiver(one, node)).map((node) => itemBox(one, node));
  const takers = nodes.filter((node) => !isGiver(one, node)).map((node) => itemBox(one, node));
  const [left, right] = [column(givers), column(takers)];
  const between = givers.length > 0 && takers.length > 0 ? 70 : 0;
  const rows = Math.max(0, left.height, right.height);
  const inner = within.reduce((sum, box) => sum + box.width + pad, -pad);
  const own = givers.length + takers.length > 0 ? left.width + between + right.width : 0;
  const width = Math.max(own, inner, textWidth(title, 'bold', 12) + 10) + 2 * pad;
  const below = within.reduce((most, box) => Math.max(most, box.height), 0);
  const height = titleHeight + rows + (rows > 0 ? pad : 0) + below + (below > 0 ? pad : 0);
  return {
    width,
    height,
    draw(x, y, places) {
      const parts = [
        `<rect x="${x}" y="${y}" width="${width}" height="${height}" rx="2" fill="${looks[look].fill}" stroke="${looks[look].edge}"/>`,
        words(`${look} ${title}`, x + 8, y + 16, 'font-weight="700"'),
      ];
      let at = y + titleHeight;
      for (const box of givers) {
        parts.push(box.draw(x + pad, at, places));
        at += box.height + gap;
      }
      at = y + titleHeight;
      for (const box of takers) {
        parts.push(box.draw(x + width - pad - box.width, at, places));
        at += box.height + gap;
      }
      let across = x + pad;
      for (const box of within) {
        parts.push(box.draw(across, y + titleHeight + rows + (rows > 0 ? pad : 0), places));
        across += box.width + pad;
      }
      return parts.join('\n');
    },
  };
}

/** Sources stand behind every beacon and feed; they are left out, and so are nested nodes, whose graphs are drawn. */
const isShown = (node: GraphNode): boolean => !node.name.endsWith('_source') && node.kind !== builtin.nested;

function graphBox(one: ScopeCase, graph: string): Box | undefined {
  const { doc } = one;
  const index = indexOf(doc);
  const inScope = (frame: string | undefined): readonly [GraphNode[], Box[]] => {
    const here = index.nodesIn(graph).filter((node) => node.frame === frame);
    const frames = index.framesIn(graph).filter((item) => item.parent === frame);
    const boxes = [
      ...frames.map((item) => container(one, item.title, 'frame', ...inScope(item.id))),
      ...here.flatMap((node) => (node.inner === undefined ? [] : (graphBox(one, node.inner) ?? []))),
    ];
    return [here.filter(isShown), boxes];
  };
  const [nodes, boxes] = inScope(undefined);
  if (nodes.length === 0 && boxes.length === 0) return undefined;
  return container(one, must(doc.graphs.get(graph)).name, 'graph', nodes, boxes);
}

function line(places: ReadonlyMap<string, Place>, from: string, to: string): string {
  const [a, b] = [must(places.get(from)), must(places.get(to))];
  const [y1, y2] = [a.y + itemHeight / 2, b.y + itemHeight / 2];
  const isBelow = b.x < a.x + a.width;
  const [x1, x2] = [a.x + a.width, b.x + 3];
  const bend = isBelow ? 60 : Math.max(24, (x2 - x1) / 2);
  return `<path d="M${x1} ${y1}C${x1 + bend} ${y1} ${x2 - bend} ${y2} ${x2} ${y2}" fill="none" stroke="${link}" stroke-width="1.8" stroke-dasharray="6 4"/><circle cx="${x2}" cy="${y2}" r="3" fill="${link}"/>`;
}

/** Wires between nodes that are shown. */
function drawn(doc: Doc, places: ReadonlyMap<string, Place>): string[] {
  return [...doc.wires.values()].flatMap((wire) => {
    const [a, b] = [places.get(wire.from.node), places.get(wire.to.node)];
    if (!a || !b) return [];
    const [am, bm] = [a.y + itemHeight / 2, b.y + itemHeight / 2];
    const ends =
      a.x + a.width < b.x
        ? [a.x + a.width, am, b.x, bm]
        : b.x + b.width < a.x
          ? [a.x, am, b.x + b.width, bm]
          : [
              Math.max(a.x, b.x) + 20,
              a.y < b.y ? a.y + itemHeight : a.y,
              Math.max(a.x, b.x) + 20,
              a.y < b.y ? b.y : b.y + itemHeight,
            ];
    const [x1, y1, x2, y2] = ends as [number, number, number, number];
    return [
      `<path d="M${x1} ${y1}L${x2} ${y2}" fill="none" stroke="${ink}" stroke-width="1.3" marker-end="url(#tip)"${wire.off ? ' stroke-dasharray="1.5 4"' : ''}/>`,
    ];
  });
}

const tip = `<marker id="tip" viewBox="0 0 8 8" refX="7" refY="4" markerWidth="7" markerHeight="7" orient="auto"><path d="M0 0L8 4L0 8Z" fill="${ink}"/></marker>`;

export function pictureOf(one: ScopeCase): string {
  const places = new Map<string, Place>();
  const box = must(graphBox(one, 'root'));
  const body = box.draw(1, 1, places);
  const answers = Object.entries({
    ...one.hears,
    ...Object.fromEntries(Object.entries(one.supplies ?? {}).map(([input, feed]) => [must(input.split('.')[0]), feed])),
  });
  const lines = [
    ...new Set([
      ...answers.flatMap(([to, from]) => (from === undefined ? [] : [line(places, from, to)])),
      ...Object.entries(one.supplies ?? {}).flatMap(([input, feed]) =>
        feed === undefined ? [] : [line(places, feed, must(input.split('.')[0]))],
      ),
    ]),
  ];
  return [
    `<svg xmlns="http://www.w3.org/2000/svg" width="${Math.ceil(box.width) + 2}" height="${Math.ceil(box.height) + 2}" font-family="'Atkinson Hyperlegible', sans-serif" font-size="12" fill="${ink}" role="img">`,
    `<title>${escaped(one.title)}</title>`,
    tip,
    `<rect width="100%" height="100%" fill="#f7f2ea"/>`,
    body,
    ...drawn(one.doc, places),
    ...lines,
    '</svg>',
    '',
  ].join('\n');
}

export const pictureFile = (one: ScopeCase): string => `docs/scope/${one.id}.svg`;

const marks = { start: '<!-- made by npm run docs: cases -->', end: '<!-- end of cases -->' };

/** docs/remote-links.md with its cases as they are now. */
export function withCases(page: string): string {
  const [before, rest] = [page.slice(0, page.indexOf(marks.start)), page.slice(page.indexOf(marks.end))];
  const section = (title: string, cases: readonly ScopeCase[]): string[] => [
    `### ${title}`,
    '',
    ...cases.flatMap((one) => [`**${one.title}.** ${one.why}`, '', `![${one.title}](scope/${one.id}.svg)`, '']),
  ];
  return (
    [
      before + marks.start,
      '',
      ...section('Which beacon a tap hears', scopeCases.heard),
      ...section('What a standing feed supplies', scopeCases.fed),
    ].join('\n') + rest
  );
}
