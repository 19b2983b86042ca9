import type { Scheme } from '../color/scheme.ts';
import type { Doc } from '../document/doc.ts';
import type { Kinds } from '../document/kinds.ts';
import type { SheetColors } from '../sheet/colors.ts';
import { graphShapes } from '../sheet/graph.ts';
import type { LetterOutlines } from '../sheet/letters.ts';
import type { Sheet } from '../sheet/shapes.ts';
import { type Fonts, fontFaces, sheetSvg } from '../sheet/svg.ts';
import { escaped } from '../sheet/svg-words.ts';
import { foldedView } from '../structure/fold.ts';
import { plural } from '../words.ts';
import type { Handover } from './handover.ts';

const margin = 24;

/** The outermost graph as a picture of its own, in pixels at 100 % zoom. */
export function graphSvg(
  doc: Doc,
  kinds: Kinds,
  colors: SheetColors,
  scheme: Scheme,
  outlines?: LetterOutlines,
): string {
  return sheetSvg(graphSheet(doc, kinds, colors, scheme), { title: doc.head.title, outlines });
}

/** The outermost graph on a sheet of its own, in pixels at 100 % zoom. */
export function graphSheet(doc: Doc, kinds: Kinds, colors: SheetColors, scheme: Scheme): Sheet {
  const { shapes, box } = graphShapes(foldedView(doc, kinds), kinds, doc.head.root, colors, scheme);
  const size = box ?? { x: 0, y: 0, width: 200, height: 100 };
  const moved = { type: 'group', shapes, x: margin - size.x, y: margin - size.y, scale: 1 } as const;
  return { width: size.width + 2 * margin, height: size.height + 2 * margin, ground: colors.ground, shapes: [moved] };
}

const rows = (items: readonly string[]): string => `<ul>${items.map((item) => `<li>${item}</li>`).join('')}</ul>`;
const section = (title: string, content: string): string => `<section><h2>${title}</h2>${content}</section>`;
const none = (text: string): string => `<p class="soft">${text}</p>`;

function style(colors: SheetColors): string {
  return `
:root{color-scheme:${colors.theme === 'night' ? 'dark' : 'light'}}
body{margin:0;padding:32px 40px;background:${colors.ground};color:${colors.ink};font:15px/1.45 "Atkinson Hyperlegible",Verdana,sans-serif}
h1{margin:0;font-size:26px}h2{margin:0 0 6px;font-size:16px}h3{margin:10px 0 2px;font-size:15px}
.soft,li span{color:${colors.soft}}.warn{color:${colors.warn}}code{font-family:"Atkinson Hyperlegible Mono",monospace;font-size:13px}
figure{margin:20px 0;border:1px solid ${colors.line}}figure svg{display:block;width:100%;height:auto;max-height:75vh}
main{columns:3 300px;column-gap:40px}section{break-inside:avoid-column;margin:0 0 22px;overflow-wrap:anywhere}ul{margin:0;padding-left:18px}li ul{margin:2px 0}
@page{size:A3 landscape;margin:10mm}@media print{body{padding:0;font-size:10pt}figure{break-after:avoid}figure svg{max-height:190mm}}`;
}

/**
 * What somebody has to know who takes a file over, as a page of its own: nothing of it is fetched, and the text of
 * users is text. O(size of what is shown).
 */
export function handoverPage(handover: Handover, picture: string, colors: SheetColors, fonts: Fonts): string {
  const { counts, findings } = handover;
  const named = (list: readonly { name: string; kind: string; about: string }[]): string =>
    rows(
      list.map(
        ({ name, kind, about }) =>
          `${escaped(name)} <span>${escaped(kind)}</span>${about ? `<br><code>${escaped(about)}</code>` : ''}`,
      ),
    );
  const graphs = handover.graphs
    .map((graph, i) => {
      const frames = graph.frames.map(
        (frame) =>
          `<div style="margin-left:${frame.depth * 16}px"><b>${escaped(frame.title)}</b> <span class="soft">${plural(frame.nodes, 'node')}</span>${frame.notes.length > 0 ? rows(frame.notes.map(escaped)) : ''}</div>`,
      );
      const loose = graph.notes.length > 0 ? rows(graph.notes.map(escaped)) : '';
      const title =
        i === 0 ? '' : `<h3>${escaped(graph.path)} <span class="soft">${plural(graph.nodes, 'node')}</span></h3>`;
      return `${title}${frames.join('')}${loose}`;
    })
    .join('');
  const found = findings.rules.map(
    ({ title, severity, count, messages }) =>
      `<b${severity === 'info' ? '' : ' class="warn"'}>${escaped(title)}</b> <span>${severity}, ${count.toLocaleString('en')}</span>${rows([...messages.map(escaped), ...(count > messages.length ? [`<span>and ${(count - messages.length).toLocaleString('en')} more</span>`] : [])])}`,
  );
  return `<!doctype html>
<html lang="en"><head><meta charset="utf-8"><meta name="viewport" content="width=device-width,initial-scale=1"><title>${escaped(handover.title)}, hand-over</title><style>${fontFaces(fonts)}${style(colors)}</style></head>
<body><header><h1>${escaped(handover.title)}</h1>
<p class="soft">${escaped(handover.project)} · revision ${handover.revision} by ${escaped(handover.author)}, ${escaped(handover.at)}: “${escaped(handover.message)}”<br>
${plural(counts.nodes, 'node')}, ${plural(counts.wires, 'wire')}, ${plural(counts.frames, 'frame')}, ${plural(counts.graphs, 'graph')} · readability ${Math.round(handover.score)} of 100 · ${plural(findings.counts.error, 'error')}, ${plural(findings.counts.warning, 'warning')}, ${plural(findings.counts.info, 'hint')}</p></header>
<figure aria-label="The outermost graph">${picture}</figure>
<main>
${section('Outline: frames and their notes', graphs || none('No frames and no notes.'))}
${section('What it is for', handover.outputs.length > 0 ? named(handover.outputs) : none('Nothing that could be told.'))}
${section('What it reads', handover.inputs.length > 0 ? named(handover.inputs) : none('Nothing from outside.'))}
${section('Shared kinds', handover.shared.length > 0 ? rows(handover.shared.map((one) => `${escaped(one.title)} <span>version ${one.version}, ${plural(one.count, 'node')}</span>`)) : none('None.'))}
${section('Open findings', found.length > 0 ? rows(found) : none('None: the house rules find nothing.'))}
</main></body></html>
`;
}
