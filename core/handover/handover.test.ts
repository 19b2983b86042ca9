import fc from 'fast-check';
import { XMLParser, XMLValidator } from 'fast-xml-parser';
import { describe, expect, it } from 'vitest';
import { noScheme } from '../color/scheme.ts';
import { indexOf } from '../document/doc.ts';
import { rectOf } from '../document/geometry.ts';
import { textWidth } from '../document/metrics.ts';
import { formats, readFile } from '../formats/formats.ts';
import { profileSchema } from '../rules/profile-schema.ts';
import { sheetColors } from '../sheet/colors.ts';
import { extentOf, type Shape } from '../sheet/shapes.ts';
import { sheetSvg } from '../sheet/svg.ts';
import { wrapped } from '../sheet/wrap.ts';
import { docArbitrary, sketchDoc, testKinds, wideKinds } from '../tests/arbitrary.ts';
import { handoverOf } from './handover.ts';
import { graphSvg, handoverPage } from './page.ts';
import { a3, posterSheets } from './poster.ts';

const facts = { revision: 3, author: 'Lead TD', message: 'As rehearsed', at: '2026-11-20', project: 'Reef' };
const profile = profileSchema.parse({});
const noFonts = { regular: 'data:,', bold: 'data:,', mono: 'data:,' };
const posterOf = (doc: Parameters<typeof handoverOf>[0], kinds = testKinds) =>
  posterSheets(doc, kinds, handoverOf(doc, kinds, profile, facts), sheetColors.paper, noScheme);

/** A row of nodes that goes on for long. */
function long(count: number) {
  const pad = sketchDoc();
  for (let i = 0; i < count; i++) pad.node(`n${i}`, 'src', { x: (i % 40) * 300, y: Math.floor(i / 40) * 200 });
  return pad.doc;
}

describe('what is handed over', () => {
  it('holds frames as they lie in one another with the notes that are tied to them, what is read, what it is for, and what is found', () => {
    const doc = sketchDoc()
      .frame('f', { title: 'Bay' })
      .frame('g', { title: 'Inner', parent: 'f' })
      .node('a', 'reader', { frame: 'g', params: { file: 'maps/bay.exr' } })
      .node('b', 'round', { x: 300 })
      .wire('a.out', 'b.in').doc;
    const note = (id: string, text: string, tiedTo?: string) => ({
      id,
      graph: 'root',
      text,
      x: 0,
      y: 500,
      width: 100,
      height: 60,
      ...(tiedTo !== undefined && { tiedTo }),
    });
    const noted = {
      ...doc,
      notes: new Map(
        [note('n1', '# Of the bay', 'f'), note('n2', 'Of the reader', 'a'), note('n3', 'Loose')].map((one) => [
          one.id,
          one,
        ]),
      ),
    };
    const told = handoverOf(noted, wideKinds, profile, facts);
    expect(told.graphs[0]!.frames).toEqual([
      { title: 'Bay', depth: 0, nodes: 0, notes: ['Of the bay'] },
      { title: 'Inner', depth: 1, nodes: 1, notes: ['Of the reader'] },
    ]);
    expect(told.graphs[0]!.notes).toEqual(['Loose']);
    expect(told.inputs.map((one) => [one.name, one.about])).toEqual([['a', 'maps/bay.exr']]);
    expect(told.outputs.map((one) => one.name)).toEqual(['b']);
    expect(told.counts).toEqual({ nodes: 2, wires: 1, frames: 2, graphs: 1 });
    const { counts, rules } = told.findings;
    expect(rules.reduce((sum, rule) => sum + rule.count, 0)).toBe(counts.error + counts.warning + counts.info);
  });

  it('is a page in which text stays text, and which fetches and runs nothing', () => {
    const bad = '<script>alert(1)</script><img src=x onerror=y>"\'&';
    const doc = sketchDoc().node('a', 'src', { label: bad }).frame('f', { title: bad }).doc;
    const named = { ...doc, head: { ...doc.head, title: bad } };
    const told = handoverOf(named, testKinds, profile, { ...facts, author: bad, message: bad, project: bad });
    const page = handoverPage(
      told,
      graphSvg(named, testKinds, sheetColors.night, noScheme),
      sheetColors.night,
      noFonts,
    );
    expect(page).not.toMatch(/<script|<img|<a |onerror=y>|href=|src="/);
    expect(page).toContain('&lt;script&gt;alert(1)&lt;/script&gt;');
    expect(page.match(/<h1>/g)).toHaveLength(1);
    const picture = formats.find((format) => format.id === 'svg')!.write(named, testKinds);
    expect(picture).not.toMatch(/<script|<img|onerror=y>|href="[^#]/);
  });
});

describe('the poster', () => {
  it('is A3, 420 × 297 mm by ISO 216, of one sheet where its names can be read on that', () => {
    const sheets = posterOf(sketchDoc().node('a', 'src').node('b', 'round', { x: 300 }).wire('a.out', 'b.in').doc);
    expect(sheets).toHaveLength(1);
    const mm = (points: number): number => Math.round((points / 72) * 25.4 * 10) / 10;
    expect([mm(sheets[0]!.width), mm(sheets[0]!.height)]).toEqual([420, 297]);
  });

  it('has parts where it is large: letters of six points, each node whole on the page or cut by its edge, none left out', () => {
    const doc = long(200);
    const sheets = posterOf(doc);
    expect(sheets.length).toBeGreaterThan(2);
    const seen = new Set<string>();
    for (const { shapes } of sheets.slice(1)) {
      const group = shapes.find((shape): shape is Shape & { type: 'group' } => shape.type === 'group')!;
      expect(13 * group.scale).toBeGreaterThanOrEqual(5.99);
      const { x, y, width, height } = group.clip!;
      expect([
        x >= a3.margin - 0.01,
        y >= a3.margin,
        x + width <= a3.width - a3.margin + 0.01,
        y + height <= a3.height - a3.margin + 0.01,
      ]).toEqual([true, true, true, true]);
      for (const node of indexOf(doc).nodesIn('root')) {
        const rect = rectOf(doc, testKinds, node);
        const [left, top] = [group.x + rect.x * group.scale, group.y + rect.y * group.scale];
        if (
          left < x + width &&
          top < y + height &&
          left + rect.width * group.scale > x &&
          top + rect.height * group.scale > y
        )
          seen.add(node.id);
      }
    }
    expect(seen.size).toBe(200);
    // smaller rather than without end
    expect(posterOf(long(4000)).length).toBeLessThanOrEqual(30);
  });

  it('of an empty graph says so', () => {
    expect(JSON.stringify(posterOf(sketchDoc().doc)[0])).toContain('The graph is empty.');
  });
});

describe('SVG', () => {
  const svg = formats.find((format) => format.id === 'svg')!;

  it('is well-formed XML of SVG, without a number that is none, whatever the graph', () => {
    fc.assert(
      fc.property(docArbitrary(20), (doc) => {
        const text = svg.write(doc, testKinds);
        expect(XMLValidator.validate(text)).toBe(true);
        const { svg: root } = new XMLParser({ ignoreAttributes: false }).parse(text) as { svg: Record<string, string> };
        expect([root['@_xmlns'], root['@_viewBox']!.split(' ').every((part) => Number.isFinite(Number(part)))]).toEqual(
          ['http://www.w3.org/2000/svg', true],
        );
        expect(text).not.toMatch(/NaN|undefined|Infinity/);
      }),
    );
  });

  it('is written only: whoever reads one is told so', () => {
    expect(() => readFile('picture.svg', '<svg/>', testKinds)).toThrow(
      '“picture.svg” is a picture, which can be written but not read. These can be read: .graph.json',
    );
  });

  it('leaves out signs that XML 1.0 has no place for, and marks up the others', () => {
    const text = {
      type: 'text',
      x: 0,
      y: 0,
      text: 'a\u0000<b>&"\u001b',
      face: 'regular',
      size: 10,
      color: '#000000',
    } as const;
    const out = sheetSvg({ width: 10, height: 10, ground: '#ffffff', shapes: [text] });
    expect(out).toContain('>a&lt;b&gt;&amp;&quot;</text>');
    expect(XMLValidator.validate(out)).toBe(true);
  });
});

describe('words on paper', () => {
  it('are wrapped to a width, and no line is wider', () => {
    fc.assert(
      fc.property(fc.string({ maxLength: 200 }), fc.integer({ min: 30, max: 300 }), (text, width) => {
        for (const line of wrapped(text, 'regular', 10, width))
          expect(textWidth(line, 'regular', 10)).toBeLessThanOrEqual(width + 0.01);
      }),
    );
    expect(wrapped('one two\nthree', 'regular', 10, 400)).toEqual(['one two', 'three']);
  });

  it('take their place from where they are anchored', () => {
    const text = { type: 'text', x: 100, y: 20, text: 'Kelp', face: 'bold', size: 10, color: '#000000' } as const;
    const wide = textWidth('Kelp', 'bold', 10);
    expect(
      [undefined, 'middle', 'end'].map((anchor) => extentOf({ ...text, ...(anchor && { anchor }) } as Shape).x),
    ).toEqual([100, 100 - wide / 2, 100 - wide]);
  });
});
