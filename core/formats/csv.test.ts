import { csvParse } from 'd3-dsv';
import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { writeDoc } from '../document/file.ts';
import { problems } from '../document/validate.ts';
import { docArbitrary, sketchDoc, testKinds } from '../tests/arbitrary.ts';
import { formatOf, formats, readFile, written } from './formats.ts';
import { lostBetween } from './lost.ts';

const csv = formatOf('x.csv');
const read = (text: string) => readFile('tide.csv', text, testKinds);
const again = (text: string) => read(text).doc;

describe('CSV of nodes and wires', () => {
  it('is a table that another reader takes (d3-dsv), a row for each node and wire', () => {
    const doc = sketchDoc()
      .node('a', 'src', { label: 'Tide, "high"\nwater' })
      .node('b', 'round', { x: 300 })
      .wire('a.out', 'b.in').doc;
    const text = csv.write(doc, testKinds);
    expect(text.split('\r\n')[0]).toBe('row,id,name,label,kind,x,y,from,from port,to,to port,more');
    const rows = csvParse(text);
    expect(
      rows
        .filter((row) => row.row !== 'graph')
        .map((row) => [row.row, row.id, row.label, row.x, row.from, row['to port']]),
    ).toEqual([
      ['node', 'a', 'Tide, "high"\nwater', '0', '', ''],
      ['node', 'b', '', '300', '', ''],
      ['wire', 'a.out>b.in', '', '', 'a', 'in'],
    ]);
  });

  it('brings nodes and wires back whole, and what it has no place for is named', () => {
    fc.assert(
      fc.property(docArbitrary(20), (doc) => {
        const { text, lost } = written(csv, doc, testKinds);
        const back = again(text);
        expect(problems(back)).toEqual([]);
        expect([back.nodes.size, back.wires.size]).toEqual([doc.nodes.size, doc.wires.size]);
        for (const [id, node] of doc.nodes)
          expect(back.nodes.get(id)).toMatchObject({
            name: node.name,
            kind: node.kind,
            x: node.x,
            y: node.y,
            ports: node.ports,
          });
        const said = lost.join('; ');
        expect(said.includes('frame')).toBe(doc.frames.size > 0 || said.includes('frame of'));
        expect(/\d+ notes?/.test(said) || doc.notes.size === 0).toBe(true);
      }),
    );
  });

  it('keeps a cell from being taken for a formula, and takes the quote off again', () => {
    const doc = sketchDoc().node('a', 'src', { label: '=HYPERLINK("x")' }).doc;
    const text = csv.write(doc, testKinds);
    expect(csvParse(text)[1]!.label).toBe('\'=HYPERLINK("x")');
    expect(again(text).nodes.get('a')!.label).toBe('=HYPERLINK("x")');
  });

  it.each([
    ['source,target,weight\nbay,reef,3\nreef,dome,\n', ['bay', 'reef', 'dome'], 2],
    ['From;To\n', [], 0],
    ['bay,reef\nreef,dome\n', ['bay', 'reef', 'dome'], 2],
    ['weight,Target,Source\n1,reef,bay\n', ['bay', 'reef'], 1],
  ])('takes edges as others write them: %j', (text, names, wires) => {
    if (wires === 0) {
      expect(read(text).findings.map((item) => item.rule)).toEqual(['no-rows']);
      return;
    }
    const { doc, findings } = read(text);
    expect([...doc.nodes.values()].map((node) => node.name)).toEqual(names);
    expect(doc.wires.size).toBe(wires);
    expect(findings.map((item) => item.rule)).toContain('arranged-on-import');
    if (text.includes('weight')) expect(writeDoc(doc)).toContain('"attributes":{"weight":');
  });

  it('says what is wrong, and where', () => {
    expect(() => read('\n\n')).toThrow('this table is empty');
    expect(() => read('row,id\nplanet,x\n')).toThrow('Row 2: the first column says “planet”');
    expect(() => read('row,id,more\nnode,x,{oops\n')).toThrow('Row 2: the column “more” does not hold valid JSON');
    expect(read('source,target\na,b\nc,\n').findings.map((item) => item.message)).toContain(
      'Row 3 names one end only and was left out.',
    );
  });
});

describe('what a format has no place for', () => {
  it('is nothing for Graph JSON and JSON Graph Format, and all but the picture for SVG', () => {
    fc.assert(
      fc.property(docArbitrary(12), (doc) => {
        for (const id of ['json', 'jgf'])
          expect([id, written(formats.find((format) => format.id === id)!, doc, testKinds).lost]).toEqual([id, []]);
      }),
      { numRuns: 30 },
    );
    expect(written(formatOf('x.svg'), sketchDoc().node('a', 'src').doc, testKinds).lost).toEqual([
      'everything but the picture of its outermost graph',
    ]);
  });

  it('is said in words: things that are gone, and fields of those that are not', () => {
    const doc = sketchDoc()
      .node('a', 'src', { label: 'x' })
      .node('b', 'src', { label: 'y', color: '#ff0000' })
      .frame('f').doc;
    const other = sketchDoc().node('a', 'src').node('b', 'src', { label: 'y' }).doc;
    expect(lostBetween(doc, other)).toEqual(['1 frame', 'color of 1 node', 'label of 1 node']);
    expect(lostBetween(doc, doc)).toEqual([]);
  });
});
