import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { readFile } from '../formats/formats.ts';
import { parseXml } from '../formats/xml.ts';
import { emptyCatalogue } from './catalogue.ts';
import { parseJson } from './file.ts';
import { Kinds } from './kinds.ts';
import { checkJson, mostNested } from './nesting.ts';
import { UnreadableFile } from './unreadable.ts';

const kinds = new Kinds(emptyCatalogue);
const read = (name: string, text: string) => () => readFile(name, text, kinds);
const nest = (open: string, close: string, depth: number): string => open.repeat(depth) + close.repeat(depth);

describe('what is nested too deep is refused before it is parsed', () => {
  it('in JSON, with the line; what stands in text does not count', () => {
    expect(() => parseJson(`\n${nest('[', ']', mostNested.json + 1)}`)).toThrow(/^Line 2: .* nested deeper/);
    expect(parseJson(nest('[', ']', mostNested.json))).toBeInstanceOf(Array);
    expect(parseJson(JSON.stringify({ a: '[{'.repeat(500), 'k"\\': nest('{', '}', 300) }))).toBeTypeOf('object');
    // JSON.parse takes 3,000 levels, and whatever walks over them afterwards does not
    expect(() => parseJson(nest('{"a":', '}', 3000))).toThrow(UnreadableFile);
    expect(() => checkJson('[1,2,3]', 2)).toThrow(/more than 2 values/);
    expect(() => checkJson('[1,2,3]', 3)).not.toThrow();
  });

  it('and nothing else that JSON can say', () => {
    fc.assert(
      fc.property(fc.jsonValue({ maxDepth: 8 }), (value) => {
        expect(parseJson(JSON.stringify(value))).toEqual(JSON.parse(JSON.stringify(value)));
      }),
    );
  });

  it('in XML, not in comments, CDATA, values and empty elements', () => {
    const deep = nest('<a>', '</a>', mostNested.xml + 1);
    expect(() => parseXml(deep)).toThrow(/nested deeper/);
    expect(() => parseXml(nest('<a>', '</a>', mostNested.xml))).not.toThrow();
    for (const held of [`<!--${deep}-->`, `<![CDATA[${deep}]]>`, '<a/>'.repeat(500), '<a b=">"/>'.repeat(500)])
      expect(() => parseXml(`<?xml version="1.0"?><r>${held}</r>`)).not.toThrow();
    for (const name of ['a.graphml', 'a.gexf', 'a.mtlx']) expect(read(name, deep)).toThrow(UnreadableFile);
  });

  it('in DOT, and one that is not closed is named by its line', () => {
    expect(read('a.dot', `digraph{${'subgraph{'.repeat(mostNested.dot + 1)}`)).toThrow(/nested deeper/);
    expect(read('a.dot', `digraph{\n${'subgraph{'.repeat(90)}`)).toThrow(/never closed/);
    for (const held of ['"{{{"', '/* {{{ */ a', '// {{{\na', '<<b>{{{</b>>', '\n# {{{\na'])
      expect(read('a.dot', `digraph { ${held} }`)).not.toThrow();
    const nested = `digraph{${'subgraph{'.repeat(mostNested.dot)}a${'}'.repeat(mostNested.dot)}}`;
    expect(read('a.dot', nested)().doc.nodes.size).toBe(1);
  });
});

describe('hubs', () => {
  it('of some thousand wires are read in a time that does not grow faster than they do', () => {
    const hub = (count: number): string => Array.from({ length: count }, (_, i) => `a${i},hub`).join('\n');
    const { doc } = read('a.csv', hub(6000))();
    const ports = [...doc.nodes.values()].map((node) => node.ports.length);
    expect(Math.max(...ports)).toBe(6000);
    const names = new Set([...doc.nodes.values()].map((node) => node.name));
    expect(names.size).toBe(doc.nodes.size);
  });
});
