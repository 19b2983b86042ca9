import { readFileSync } from 'node:fs';
import { createRequire } from 'node:module';
import { dirname, join } from 'node:path';
import fc from 'fast-check';
// @ts-expect-error the package ships no types
import opentype from 'opentype.js';
import { describe, expect, it } from 'vitest';
import { docArbitrary, docFromSeed, plainDoc, sketchDoc, testCatalogue, testKinds } from '../tests/arbitrary.ts';
import { catalogueSchema } from './catalogue.ts';
import { selectedNodes } from './doc.ts';
import { docFromJson, fileJsonSchema, parseDoc, readStored, storedText, writeDoc } from './file.ts';
import { framePad, frameRects, geometryOf, ticket } from './geometry.ts';
import { compareIds, idMaker, seededRandom } from './ids.ts';
import { canonicalJson, sameJson } from './json.ts';
import { ellipsis, hasGlyph, middleEllipsis, textWidth } from './metrics.ts';
import { freeName, legalName, nameProblem } from './names.ts';
import { UnreadableFile } from './unreadable.ts';
import { problems, repair } from './validate.ts';

describe('the file', () => {
  it('parse(write(doc)) is the document, unknown kinds and fields with it', () => {
    fc.assert(
      fc.property(docArbitrary(), (doc) => {
        const back = parseDoc(writeDoc(doc));
        expect(back.findings).toEqual([]);
        expect(plainDoc(back.doc)).toEqual(plainDoc(doc));
      }),
      { numRuns: 150 },
    );
  });

  it('is written the same however the document came about, one node a line', () => {
    const doc = docFromSeed(5, 15);
    const shuffled = { ...doc, nodes: new Map([...doc.nodes].reverse()) };
    expect(writeDoc(shuffled)).toBe(writeDoc(doc));
    expect(
      writeDoc(doc)
        .split('\n')
        .filter((line) => line.startsWith('{"id":"n')).length,
    ).toBe(15);
  });

  it('keeps fields of later versions at every level', () => {
    const raw = JSON.parse(writeDoc(sketchDoc().node('a', 'src').node('b', 'add').wire('a.out', 'b.a').doc));
    raw.later = { deep: [1] };
    raw.graphs[0].mood = 'calm';
    raw.nodes[0].ports[0].glow = true;
    raw.wires[0].from.lane = 3;
    const text = writeDoc(docFromJson(raw).doc);
    for (const part of ['"later": {"deep":[1]}', '"mood":"calm"', '"glow":true', '"lane":3'])
      expect(text).toContain(part);
  });

  it('leaves routes, which are derived, out of the document', () => {
    const doc = sketchDoc().node('a', 'src').doc;
    const text = writeDoc(
      doc,
      new Map([
        [
          'w',
          [
            { x: 0, y: 0 },
            { x: 5, y: 0 },
          ],
        ],
      ]),
    );
    expect(JSON.parse(text).routes).toEqual({
      w: [
        [0, 0],
        [5, 0],
      ],
    });
    expect(plainDoc(parseDoc(text).doc)).toEqual(plainDoc(doc));
  });

  it.each([
    ['{"format": "basitax-graph",\n "version": 1,,}', /Line 2.*not valid JSON/],
    ['[]', /lacks "format"/],
    ['{"format":"basitax-graph","version":9}', /version 9/],
    [
      '{"format":"basitax-graph","version":1,"id":"d","title":"t","catalogue":{"id":"c","version":1},"root":"r","graphs":[{"id":"r","name":"M"}],"nodes":[{"id":"lamp","graph":"r","kind":"k","name":"L","x":"left","y":0,"ports":[]}]}',
      /x of “lamp” in nodes/,
    ],
  ])('says in one sentence what is wrong with %s', (text, message) => {
    expect(() => parseDoc(text)).toThrow(UnreadableFile);
    expect(() => parseDoc(text)).toThrow(message);
  });

  it('has a JSON Schema that names every table', () => {
    expect(Object.keys((fileJsonSchema() as { properties: object }).properties)).toEqual(
      expect.arrayContaining(['format', 'graphs', 'frames', 'nodes', 'wires', 'notes']),
    );
  });
});

describe('repair', () => {
  const rulesOf = (doc: Parameters<typeof repair>[0]) => repair(doc).findings.map((item) => item.rule);

  it('finds nothing in whole documents, and nothing more after a repair', () => {
    fc.assert(
      fc.property(docArbitrary(), (doc) => {
        expect(problems(doc)).toEqual([]);
        expect(repair(doc).doc).toBe(doc);
      }),
    );
  });

  it.each([
    ['wire-to-nothing', sketchDoc().node('a', 'src').wire('a.out', 'gone.in').doc],
    ['wire-to-nothing', sketchDoc().node('a', 'src').node('b', 'add').wire('a.out', 'b.nope').doc],
    [
      'second-wire',
      sketchDoc().node('a', 'src').node('c', 'src').node('b', 'add').wire('a.out', 'b.a').wire('c.out', 'b.a').doc,
    ],
    [
      'wire-over-border',
      sketchDoc()
        .graph('g')
        .node('h', 'std.nested', { inner: 'g' })
        .node('a', 'src')
        .node('b', 'add', { graph: 'g' })
        .wire('a.out', 'b.a').doc,
    ],
    ['lost-frame', sketchDoc().node('a', 'src', { frame: 'gone' }).doc],
    ['lost-graph', sketchDoc().node('a', 'src', { graph: 'gone' }).doc],
    ['lost-inner', sketchDoc().node('a', 'std.nested', { inner: 'gone' }).doc],
    ['bad-number', sketchDoc().node('a', 'src', { x: Number.NaN }).doc],
    ['frame-tree', sketchDoc().frame('f', { parent: 'g' }).frame('g', { parent: 'f' }).doc],
    ['name', sketchDoc().node('a', 'src', { name: 'two words' }).doc],
    ['nesting', sketchDoc().graph('g').node('a', 'std.nested', { graph: 'g', inner: 'g' }).doc],
  ])('mends and lists: %s', (rule, doc) => {
    expect(rulesOf(doc)).toContain(rule);
    expect(problems(repair(doc).doc)).toEqual([]);
  });

  it('keeps an illegal name as the label', () => {
    const node = repair(sketchDoc().node('a', 'src', { name: 'Kelp – far' }).doc).doc.nodes.get('a');
    expect(node).toMatchObject({ name: 'Kelp_far', label: 'Kelp – far' });
  });
});

describe('names and ids', () => {
  it('accepts letters, digits and _, starting with a letter (common practice)', () => {
    const doc = sketchDoc().node('a', 'src', { name: 'Moon' }).doc;
    expect(nameProblem(doc, 'root', 'Grade_2')).toBeUndefined();
    for (const bad of ['', '2nd', 'two words', 'ä', 'a-b', 'Moon'])
      expect(nameProblem(doc, 'root', bad)?.message).toBeTypeOf('string');
    expect(nameProblem(doc, 'root', 'Moon', 'a')).toBeUndefined();
  });

  it('makes any text legal', () => {
    fc.assert(
      fc.property(
        fc.string({ unit: 'binary' }),
        (text) => nameProblem(sketchDoc().doc, 'root', legalName(text)) === undefined,
      ),
    );
    expect(freeName('Grade7', new Set(['Grade7', 'Grade2']))).toBe('Grade3');
  });

  it('orders ids as people do', () => {
    expect(['n10', 'n2', 'm1', 'n1'].sort(compareIds)).toEqual(['m1', 'n1', 'n2', 'n10']);
  });

  it('repeats with the seed and differs without', () => {
    expect(idMaker(4)('n')).toBe(idMaker(4)('n'));
    expect(idMaker(4)('n')).not.toBe(idMaker(5)('n'));
    const random = seededRandom(9);
    const mean = Array.from({ length: 20000 }, random).reduce((sum, x) => sum + x, 0) / 20000;
    expect(Math.abs(mean - 0.5)).toBeLessThan(0.01);
  });
});

describe('JSON values', () => {
  it('has one spelling for one value (key order and spaces as RFC 8785 orders ASCII keys)', () => {
    expect(canonicalJson({ b: [1, -0, 'é'], a: { d: undefined, c: null } })).toBe('{"a":{"c":null},"b":[1,0,"é"]}');
    expect(() => canonicalJson(Number.NaN)).toThrow(TypeError);
  });

  it('compares deeply', () => {
    fc.assert(fc.property(fc.jsonValue(), (value) => sameJson(value, JSON.parse(JSON.stringify(value)))));
    expect(sameJson({ a: 1 }, { a: 1, b: undefined })).toBe(true);
    expect(sameJson([1, 2], [1, 2, 3])).toBe(false);
  });
});

describe('the catalogue', () => {
  it('refuses doubled kinds, codes and unknown types in one sentence each', () => {
    const broken = {
      ...testCatalogue,
      kinds: [
        ...testCatalogue.kinds,
        testCatalogue.kinds[0]!,
        { ...testCatalogue.kinds[0]!, id: 'other', ports: [{ id: 'p', name: 'p', type: 'nope', direction: 'in' }] },
      ],
    };
    const result = catalogueSchema.safeParse(broken);
    const messages = result.error?.issues.map((issue) => issue.message).join('\n') ?? '';
    expect(messages).toContain('kind “src” stands twice');
    expect(messages).toContain('kind code “So” stands twice');
    expect(messages).toContain('type “nope”');
  });

  it('knows which type fits which, and what converts', () => {
    expect(testKinds.accepts('col', 'num')).toBe(true);
    expect(testKinds.accepts('num', 'col')).toBe(false);
    expect(testKinds.accepts('any', 'col')).toBe(true);
    expect(testKinds.conversion('num', 'int')).toBe('round');
    expect(
      testKinds.refusal(
        { id: 'x', name: 'x', type: 'int', direction: 'in' },
        { id: 'y', name: 'y', type: 'num', direction: 'out' },
      )?.message,
    ).toContain('“Round” converts it');
  });

  it('checks values by type and range', () => {
    expect(testKinds.valueProblem('src', 'value', 7)).toBeUndefined();
    expect(testKinds.valueProblem('src', 'value', 101)?.message).toContain('from 0 to 100');
    expect(testKinds.valueProblem('src', 'value', 'x')?.message).toContain('a number');
    expect(
      testKinds.valueProblem('src', 'value', { expression: ['2 * ', { node: 'a', parameter: 'value' }] }),
    ).toBeUndefined();
  });
});

describe('geometry', () => {
  it('measures text as opentype.js, which reads the font file itself, does', () => {
    const folder = dirname(createRequire(import.meta.url).resolve('@fontsource/atkinson-hyperlegible/package.json'));
    for (const [face, file] of [
      ['regular', '400'],
      ['bold', '700'],
    ] as const) {
      const bytes = readFileSync(join(folder, `files/atkinson-hyperlegible-latin-${file}-normal.woff`));
      const font = opentype.parse(bytes.buffer.slice(bytes.byteOffset, bytes.byteOffset + bytes.byteLength));
      for (const text of ['Kelp growth', 'RN0130_Shoal_Render', 'AVATAR To, 0.25 m/s', 'Übergröße éà'])
        expect(textWidth(text, face, 100)).toBeCloseTo(font.getAdvanceWidth(text, 100, { kerning: false }), 1);
    }
    expect(textWidth('永', 'regular', 20)).toBe(20);
    expect(hasGlyph('regular', '永'.codePointAt(0)!)).toBe(false);
    // a mono face has one width (common practice)
    expect(textWidth('iiii', 'mono', 12)).toBeCloseTo(textWidth('MMMM', 'mono', 12), 6);
  });

  it('reads what it stored as it reads anything, without checking it again', () => {
    fc.assert(
      fc.property(fc.nat(), (seed) => {
        const text = writeDoc(docFromSeed(seed, 30));
        const stored = readStored(text);
        expect(stored).toEqual(parseDoc(text).doc);
        expect(storedText(stored)).toBe(text);
      }),
    );
    expect(() => readStored('{"format":"basitax-graph","version":7}')).toThrow(UnreadableFile);
    expect(() => readStored('{"format":"other"}')).toThrow(UnreadableFile);
  });

  it('shortens to what fits, with an ellipsis', () => {
    fc.assert(
      fc.property(fc.string({ maxLength: 80 }), fc.integer({ min: 30, max: 300 }), (text, most) => {
        const short = ellipsis(text, 'bold', 13, most);
        expect(textWidth(short, 'bold', 13)).toBeLessThanOrEqual(most);
        if (short !== text) expect(short.endsWith('…')).toBe(true);
        const middle = middleEllipsis(text, 'bold', 13, most);
        expect(textWidth(middle, 'bold', 13)).toBeLessThanOrEqual(most);
        const [head, tail] = middle.split('…');
        if (middle !== text && !text.includes('…')) expect(text.startsWith(head!) && text.endsWith(tail!)).toBe(true);
      }),
    );
    expect(middleEllipsis('RN0010_Plankton_Render', 'bold', 13, 80)).toMatch(/^RN\w*…\w*Render$/);
  });

  it('places every port on the edge that the flow says, inside the node', () => {
    const base = docFromSeed(3, 40);
    for (const flow of ['right', 'left', 'down', 'up'] as const) {
      const doc = {
        ...base,
        graphs: new Map([...base.graphs.values()].map((graph) => [graph.id, { ...graph, flow }])),
      };
      for (const node of doc.nodes.values()) {
        const geometry = geometryOf(doc, testKinds, node);
        expect(Number.isInteger(geometry.width) || node.size !== undefined).toBe(true);
        for (const port of geometry.ports) {
          const into = port.direction === 'in';
          if (flow === 'right') expect(port.x).toBe(into ? 0 : geometry.width);
          if (flow === 'left') expect(port.x).toBe(into ? geometry.width : 0);
          if (flow === 'down') expect(port.y).toBe(into ? 0 : geometry.height);
          if (flow === 'up') expect(port.y).toBe(into ? geometry.height : 0);
          expect(port.x >= 0 && port.x <= geometry.width && port.y >= 0 && port.y <= geometry.height).toBe(true);
        }
      }
    }
  });

  it('fits frames around members and inner frames', () => {
    const doc = sketchDoc()
      .frame('f')
      .frame('g', { parent: 'f' })
      .node('a', 'src', { x: 100, y: 100, frame: 'g', size: { width: 50, height: 40 } }).doc;
    const rects = frameRects(doc, testKinds, 'root');
    expect(rects.get('g')).toEqual({
      x: 100 - framePad.left,
      y: 100 - framePad.top,
      width: 50 + framePad.left + framePad.right,
      height: 40 + framePad.top + framePad.bottom,
    });
    expect(rects.get('f')!.x).toBe(100 - 2 * framePad.left);
    expect(ticket.minWidth).toBeLessThan(200);
  });

  it('a selected frame stands for its members, in selection order', () => {
    const doc = sketchDoc()
      .frame('f')
      .frame('g', { parent: 'f' })
      .node('a', 'src')
      .node('b', 'src', { frame: 'g' })
      .node('c', 'src', { frame: 'f' }).doc;
    expect(selectedNodes(doc, { graph: 'root', items: ['a', 'f'] }).map((node) => node.id)).toEqual(['a', 'c', 'b']);
  });
});
