import { csvFormatRows, csvParseRows } from 'd3-dsv';
import fc from 'fast-check';
import { XMLParser } from 'fast-xml-parser';
import { strFromU8, unzipSync, zipSync } from 'fflate';
import { describe, expect, it } from 'vitest';
import type { Doc } from '../document/doc.ts';
import { idMaker } from '../document/ids.ts';
import type { Kinds } from '../document/kinds.ts';
import type { GraphNode } from '../document/schema.ts';
import { problems } from '../document/validate.ts';
import { apply } from '../edit/step.ts';
import { docArbitrary, sketchDoc, testKinds, wideKinds } from '../tests/arbitrary.ts';
import { csvOf, rowsOfCsv, tableFields } from './cells.ts';
import { readTable as readRows } from './in.ts';
import { tableOf, usualFields } from './out.ts';
import { rowsOfXlsx, xlsxOf } from './xlsx.ts';

const writeTable = (doc: Doc, kinds: Kinds, nodes: readonly GraphNode[], parameters: readonly string[]): string =>
  csvOf(tableOf({ doc, kinds, nodes }, { fields: usualFields, parameters }));
const readTable = (doc: Doc, kinds: Kinds, text: string) => readRows(doc, kinds, rowsOfCsv(text), idMaker(1));

const doc = sketchDoc()
  .node('s', 'src', { name: 'Sun', params: { value: 4 }, label: '=SUM(A1)' })
  .node('t', 'src', { name: 'Moon' })
  .node('a', 'add', { name: 'Mix', params: { own: { expression: ['1 + ', { node: 's', parameter: 'value' }] } } })
  .node('l', 'src', { name: 'Locked', locked: true }).doc;
const nodes = [...doc.nodes.values()];
const read = (text: string, kinds = testKinds) => {
  const table = readTable(doc, kinds, text);
  return { ...table, after: apply(doc, table.edit), said: table.findings.map((one) => one.message) };
};

describe('a table', () => {
  it('holds what counts, set or not, and guards what a spreadsheet would run', () => {
    expect(csvParseRows(writeTable(doc, testKinds, nodes, ['value', 'own']))).toEqual(
      [
        ['id', 'path', 'kind', 'label', 'value', 'own'],
        ['s', 'Sun', 'Source', "'=SUM(A1)", '4', ''],
        ['t', 'Moon', 'Source', '', '1', ''],
        ['a', 'Mix', 'Add', '', '', "'= 1 + [value]"],
        ['l', 'Locked', 'Source', '', '1', ''],
        [''],
      ].slice(0, 5),
    );
  });

  it('changes nothing when it is read back as it was written', () => {
    fc.assert(
      fc.property(docArbitrary(), (any) => {
        const all = [...any.nodes.values()];
        const parameters = [
          ...new Set(
            all.flatMap((node) => [
              ...testKinds.parameters(node.kind).map((one) => one.id),
              ...Object.keys(node.params ?? {}),
            ]),
          ),
        ];
        const { edit, findings, rows } = readTable(any, testKinds, writeTable(any, testKinds, all, parameters));
        expect([edit.steps, findings, rows]).toEqual([[], [], all.length]);
      }),
      { numRuns: 60 },
    );
  });

  it('takes what differs, by id, else by path; an empty cell leaves, (default) takes back', () => {
    const { after, changes, said } = read('id,path,label,value\ns,,Star,7.5\n,Moon,,\nt2,Moon,,3\n');
    expect(said).toEqual(['Line 4: “Moon” stands in line 3 already; this row is left out.']);
    expect(changes).toBe(2);
    expect(after.nodes.get('s')).toMatchObject({ label: 'Star', params: { value: 7.5 } });
    expect(after.nodes.get('t')!.params).toBeUndefined();
    expect(read('path,value\nSun,(default)\n').after.nodes.get('s')!.params).toBeUndefined();
    expect(read("path,label\nSun,'=1\n").after.nodes.get('s')!.label).toBe('=1');
  });

  it('says every bad row by its line, also behind cells of several lines', () => {
    const text = csvFormatRows([
      ['id', 'label', 'value', 'own', 'nothing'],
      ['s', 'one\ntwo', '1000', '', ''],
      ['gone', '', '1', '', ''],
      ['t', '', 'much', '', ''],
      ['a', '', '5', '3', ''],
      ['l', '', '9', '', ''],
    ]);
    const { said, after } = read(text);
    expect(said).toEqual([
      'Line 1: no node has a parameter “nothing”; the column is left out.',
      'Line 2: Sun: “Value” takes a number from 0 to 100, not 1000.',
      'Line 4: there is no node with the id “gone”.',
      'Line 5: Moon: “Value” takes a number from 0 to 100, not "much".',
      'Line 6: “Mix” (Add) has no parameter value; it was skipped.',
      'Line 6: “Mix” holds an expression in own; it was skipped.',
      'Line 7: “Locked” is locked; it was skipped.',
    ]);
    expect(after.nodes.get('s')!.label).toBe('one\ntwo');
  });

  it('refuses a table that names no nodes', () => {
    expect(read('name,value\nSun,1\n').said).toEqual([
      'Line 1: the first row names the columns, one of them “id” or “path”.',
    ]);
    expect(read('').said).toHaveLength(1);
  });

  it('reads text of paths as it is', () => {
    const wide = sketchDoc().node('r', 'reader', { params: { file: '-old.exr' } }).doc;
    const table = writeTable(wide, wideKinds, [...wide.nodes.values()], ['file']);
    expect(table).toContain("'-old.exr");
    const { edit } = readTable(wide, wideKinds, table.replace("'-old.exr", '+new.exr'));
    expect(apply(wide, edit).nodes.get('r')!.params).toEqual({ file: '+new.exr' });
  });

  it('writes names, labels, colours and frames back: names are exchanged, frames are made, what is off is taken off', () => {
    const wide = sketchDoc()
      .frame('bay')
      .frame('cove')
      .node('a', 'src', { name: 'One', color: '#112233', frame: 'bay' })
      .node('b', 'src', { name: 'Two' })
      .node('c', 'src', { name: 'Three', frame: 'bay', x: 300 })
      .node('d', 'src', { name: 'Four', x: 600 }).doc;
    const table = readTable(
      wide,
      testKinds,
      ['id,name,color,frame', 'a,Two,(none),(none)', 'b,One,#2F7D6B,cove', 'c,Four,red,Reef', 'd,No name,,Reef'].join(
        '\n',
      ),
    );
    expect(table.findings.map((one) => one.message)).toEqual([
      'Line 4: “red” is not a colour for “Three”; write one as #2f7d6b, or (none).',
      expect.stringMatching(/^Line 5: /),
      // it stays Four, so that nobody else can be
      expect.stringMatching(/^Line 4: .*Four/),
    ]);
    const after = apply(wide, table.edit);
    expect(problems(after)).toEqual([]);
    const [a, b, c, d] = ['a', 'b', 'c', 'd'].map((id) => after.nodes.get(id)!);
    expect([a!.name, a!.color, a!.frame]).toEqual(['Two', undefined, undefined]);
    expect([b!.name, b!.color, b!.frame]).toEqual(['One', '#2f7d6b', 'cove']);
    expect([c!.name, c!.frame]).toEqual(['Three', d!.frame]);
    expect(after.frames.get(d!.frame!)!.title).toBe('Reef');
  });

  it('of several files goes by the id of a file, and without one by its name', () => {
    const rows = rowsOfCsv("in file,file id,id,label\nSame,x,s,Star\nSame,y,s,'=SUM(A1)\nAlone,,s,Moon\n");
    const changes = (file: { name: string; id?: string }) => readRows(doc, testKinds, rows, idMaker(1), file).changes;
    expect([changes({ name: 'Same', id: 'x' }), changes({ name: 'Same', id: 'y' })]).toEqual([1, 0]);
    expect([changes({ name: 'Alone' }), changes({ name: 'Other' })]).toEqual([1, 0]);
  });
});

describe('a table as XLSX', () => {
  it('holds numbers as numbers and texts as texts, as ECMA-376 has cells', async () => {
    const rows = [
      ['id', 'value', 'on'],
      ['=1+1', 4.5, true],
    ];
    const files = unzipSync(await xlsxOf(rows, 'A [sheet] with a very long name that goes on'));
    const sheet = new XMLParser({ ignoreAttributes: false }).parse(strFromU8(files['xl/worksheets/sheet1.xml']!));
    // ECMA-376 part 1, 18.3.1.4 and 18.18.11: the type of a cell, s and inlineStr for texts, b for switches, n where none is
    const [text, number, flag] = sheet.worksheet.sheetData.row[1].c;
    expect(['s', 'inlineStr', 'str']).toContain(text['@_t']);
    expect([number['@_t'] ?? 'n', Number(number.v)]).toEqual(['n', 4.5]);
    expect([flag['@_t'], Number(flag.v)]).toEqual(['b', 1]);
    expect(await rowsOfXlsx(await xlsxOf(rows, 'x'))).toEqual(rows.map((cells, i) => ({ line: i + 1, cells })));
  });

  it('changes nothing when it is read back as it was written', async () => {
    await fc.assert(
      fc.asyncProperty(docArbitrary(8), async (any) => {
        const all = [...any.nodes.values()];
        const parameters = [...new Set(all.flatMap((node) => testKinds.parameters(node.kind).map((one) => one.id)))];
        const rows = tableOf({ doc: any, kinds: testKinds, nodes: all }, { fields: tableFields, parameters });
        const { edit, findings } = readRows(any, testKinds, await rowsOfXlsx(await xlsxOf(rows, 'x')), idMaker(1));
        expect([edit.steps, findings]).toEqual([[], []]);
      }),
      { numRuns: 25 },
    );
  });

  it('is refused where it is none, or would be too large unpacked', async () => {
    await expect(rowsOfXlsx(new TextEncoder().encode('id,label\n'))).rejects.toThrow('not an XLSX table');
    await expect(rowsOfXlsx(zipSync({ 'a.txt': new Uint8Array(1) }))).rejects.toThrow('not an XLSX table');
    const bomb = zipSync({ 'xl/worksheets/sheet1.xml': new Uint8Array(120_000_000) }, { level: 1 });
    expect(bomb.length).toBeLessThan(2_000_000);
    await expect(rowsOfXlsx(bomb)).rejects.toThrow('100 MB');
  });
});
