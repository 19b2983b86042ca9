import { dsvFormat } from 'd3-dsv';
import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { delimiterOf, delimiters, rowsOf, withoutStatement } from './delimited.ts';
import { guessPlan } from './table-plan.ts';

const word = fc.stringMatching(/^[a-zäé][a-z0-9äé ]{0,8}[a-z0-9]$/);
const table = fc
  .tuple(fc.integer({ min: 2, max: 6 }), fc.integer({ min: 2, max: 12 }))
  .chain(([width, height]) =>
    fc.array(fc.array(word, { minLength: width, maxLength: width }), { minLength: height, maxLength: height }),
  );

describe('tables of text', () => {
  it('are parted by what a spreadsheet parted them by (d3-dsv writes them), with commas in cells too', () => {
    fc.assert(
      fc.property(table, fc.constantFrom(...delimiters), fc.boolean(), (rows, delimiter, hasCommas) => {
        const filled = hasCommas ? rows.map(([first, ...rest]) => [`${first}, and more`, ...rest]) : rows;
        const text = dsvFormat(delimiter).formatRows(filled);
        if (delimiter === ',' || !hasCommas) expect(delimiterOf(text)).toBe(delimiter);
        expect(rowsOf(text, delimiter).map(({ cells }) => cells)).toEqual(filled);
      }),
    );
  });

  it('tell the line that each row begins in, over lines within cells and lines without any text', () => {
    const rows = rowsOf('a,b\n"one\ntwo",c\n\n,\nd,e\n', ',');
    expect(rows.map(({ line, cells }) => [line, cells])).toEqual([
      [1, ['a', 'b']],
      [2, ['one\ntwo', 'c']],
      [6, ['d', 'e']],
    ]);
  });

  it('may say what parts them', () => {
    expect([delimiterOf('sep=|\na|b,c'), withoutStatement('sep=|\na|b,c')]).toEqual(['|', 'a|b,c']);
  });
});

describe('what a table is', () => {
  // column titles as programs and people write them in seven languages (common practice)
  it.each([
    ['source,target', 'edges', ['source', 'target']],
    ['Target;Source;Weight', 'edges', ['target', 'source', null]],
    ['From Node,From Port,To Node,To Port', 'edges', ['source', 'sourcePort', 'target', 'targetPort']],
    ['Quelle;Ziel', 'edges', ['source', 'target']],
    ['Origine;Destination', 'edges', ['source', 'target']],
    ['desde,hasta', 'edges', ['source', 'target']],
    ['de,para', 'edges', ['source', 'target']],
    ['van,naar', 'edges', ['source', 'target']],
    ['da,destinazione', 'edges', ['source', 'target']],
    ['Id,Label,X,Y', 'nodes', ['id', 'label', 'x', 'y']],
    ['Name,Team', 'nodes', ['id', null]],
    ['Nœud,Nom', 'nodes', ['id', 'label']],
  ])('%s', (head, kind, roles) => {
    const delimiter = head.includes(';') ? ';' : ',';
    const row = head.split(delimiter).map((_, i) => `v${i}`);
    const { plan } = guessPlan([head, row.join(delimiter), row.join(delimiter)].join('\n'));
    expect(plan.kind).toBe(kind);
    expect(plan.roles).toEqual(roles);
  });

  it('is a square of numbers only where names and numbers agree', () => {
    expect(guessPlan(',a,b\na,0,1\nb,1,0').plan.kind).toBe('matrix');
    expect(guessPlan('0,1,0\n0,0,1\n0,0,0').plan).toMatchObject({ kind: 'matrix', hasTitles: false });
    expect(guessPlan(',a,b\na,0,1\nc,1,0').plan.kind).not.toBe('matrix');
    expect(guessPlan('1,2\n3,4\n5,6').plan.kind).toBe('edges');
  });
});
