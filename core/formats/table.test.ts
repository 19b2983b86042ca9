import { csvFormatRows, csvParseRows } from 'd3-dsv';
import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { apply } from '../edit/step.ts';
import { docArbitrary, sketchDoc, testKinds, wideKinds } from '../tests/arbitrary.ts';
import { readTable, writeTable } from './table.ts';

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
});
