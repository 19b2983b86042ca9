import { readFileSync } from 'node:fs';
import { indexOf } from '@basitax/core/document/doc';
import { writeDoc } from '@basitax/core/document/file';
import { problems } from '@basitax/core/document/validate';
import { measureGraph } from '@basitax/core/inspect/measure';
import { queryFields } from '@basitax/core/query/fields';
import { fileFields, parseFileQuery } from '@basitax/core/query/files';
import { checkQuery, parseQuery, QueryError, select } from '@basitax/core/query/query';
import { effectiveWiring } from '@basitax/core/wiring/effective';
import { describe, expect, it } from 'vitest';
import { kinds } from './builder.ts';
import { catalogue } from './catalogue.ts';
import { demoFiles } from './files.ts';

describe('the demo', () => {
  it('has a catalogue of at least sixty kinds, all with ports, most with parameters, every type in use', () => {
    expect(catalogue.kinds.length).toBeGreaterThanOrEqual(60);
    expect(catalogue.kinds.every((kind) => kind.ports.length > 0)).toBe(true);
    expect(catalogue.kinds.filter((kind) => kind.parameters.length > 1).length).toBeGreaterThan(50);
    expect(
      catalogue.categories.every((category) => catalogue.kinds.some((kind) => kind.category === category.id)),
    ).toBe(true);
  });

  it.each(demoFiles.map((file) => [file.title, file] as const))(
    '“%s” is whole, repeats from its seed, and has every wire fit',
    (_title, file) => {
      const doc = file.build();
      expect(problems(doc)).toEqual([]);
      expect(writeDoc(file.build())).toBe(writeDoc(doc));
      for (const wire of doc.wires.values()) {
        const output = doc.nodes
          .get(wire.from.node)
          ?.ports.find((port) => port.direction === 'out' && port.id === wire.from.port);
        const input = doc.nodes
          .get(wire.to.node)
          ?.ports.find((port) => port.direction === 'in' && port.id === wire.to.port);
        expect(kinds.refusal(input!, output!)).toBeUndefined();
      }
      expect([...new Set(effectiveWiring(doc, kinds).findings.map((item) => item.rule))]).toEqual(file.left ?? []);
    },
  );

  it('goes from twenty to a few thousand nodes, in a mess that is worth tidying', () => {
    expect(demoFiles.length).toBeGreaterThanOrEqual(14);
    const sizes = demoFiles.map((file) => file.build().nodes.size);
    expect(Math.min(...sizes)).toBeLessThanOrEqual(25);
    expect(Math.max(...sizes)).toBeGreaterThan(2500);
    const messy = demoFiles.find((file) => file.slug === 'plankton-shoal')!.build();
    const seen = measureGraph(messy, kinds, 'root');
    expect(seen.crossings > 500 && seen.overlaps > 50 && seen.throughNodes > 50).toBe(true);
    const placed = indexOf(messy)
      .nodesIn('root')
      .map((node) => `${node.x} ${node.y}`);
    expect(new Set(placed).size).toBeLessThan(placed.length);
  });
});

describe('docs/query.md', () => {
  const page = readFileSync(new URL('../docs/query.md', import.meta.url), 'utf8');
  const doc = demoFiles.find((file) => file.slug === 'reef-night')!.build();
  const rows = (title: string): string[][] =>
    page
      .split(`## ${title}\n`)[1]!
      .split('\n## ')[0]!
      .split('\n')
      .filter((line) => line.startsWith('| `'))
      .map((line) => line.split('|').map((cell) => cell.trim().replace(/^`|`$/g, '')));

  it.each([...rows('Terms'), ...rows('Joined')].map((row) => row[1]!))(
    'finds something by %s, and not everything',
    (query) => {
      checkQuery(parseQuery(query), doc, kinds);
      const found = select(query, doc, kinds, 'root').length;
      expect(found).toBeGreaterThan(0);
      expect(found).toBeLessThan(indexOf(doc).nodesIn('root').length);
    },
  );

  it('lists every field there is', () => {
    expect(rows('Fields').map(([, ...cells]) => cells.slice(0, 3))).toEqual(
      queryFields.map((field) => [field.id, field.title, field.type]),
    );
  });

  it('tells of files in the same language: each example can be read, each field is listed', () => {
    const [examples, fields] = [
      rows('Files').filter((row) => row.length === 4),
      rows('Files').filter((row) => row.length === 5),
    ];
    for (const [, query] of examples) expect(() => parseFileQuery(query!)).not.toThrow();
    expect(examples.length).toBeGreaterThan(3);
    expect(fields.map(([, ...cells]) => cells.slice(0, 3))).toEqual(
      fileFields.map((field) => [field.id, field.title, field.type]),
    );
  });

  it.each(rows('Mistakes').map(([, query, place, said]) => [query!, Number(place), said!] as const))(
    'says what is wrong with %s',
    (query, place, said) => {
      try {
        checkQuery(parseQuery(query), doc, kinds);
        expect.unreachable();
      } catch (error) {
        expect(error).toBeInstanceOf(QueryError);
        expect((error as QueryError).at).toBe(place);
        expect((error as QueryError).message).toContain(said);
      }
    },
  );
});
