import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { overlaps } from '../document/geometry.ts';
import { testKinds } from '../tests/arbitrary.ts';
import type { FileLinks } from './file-links.ts';
import { fileMap, touchedBy } from './file-map.ts';

const links: FileLinks = {
  files: [
    { id: 'glow', title: 'Glow library' },
    { id: 'reef', title: 'Reef at night' },
    { id: 'dome', title: 'Dome blend' },
  ],
  shared: [{ name: 'bloom', title: 'Bloom', from: 'glow' }],
  uses: [
    { file: 'glow', what: 'asset', name: 'maps/kelp.exr', written: false, count: 1 },
    { file: 'reef', what: 'asset', name: 'maps/kelp.exr', written: false, count: 2 },
    { file: 'reef', what: 'shared', name: 'bloom', written: false, count: 3 },
    { file: 'dome', what: 'shared', name: 'bloom', written: false, count: 1 },
    { file: 'gone', what: 'shared', name: 'bloom', written: false, count: 1 },
  ],
};
const both = { assets: true, fewest: false };

describe('the map of files', () => {
  it('has files, shared kinds and assets, with what is used left of what uses it', () => {
    const map = fileMap(links, testKinds, both);
    expect(map.items.map(({ id, title }) => [id, title])).toEqual([
      ['asset maps/kelp.exr', 'kelp.exr'],
      ['file dome', 'Dome blend'],
      ['file glow', 'Glow library'],
      ['file reef', 'Reef at night'],
      ['shared bloom', 'Bloom'],
    ]);
    const at = new Map(map.items.map((item) => [item.id, item]));
    for (const { from, to, route } of map.lines) {
      expect(at.get(from)!.x + at.get(from)!.width).toBeLessThanOrEqual(at.get(to)!.x);
      expect(route.length).toBeGreaterThan(1);
    }
    expect(map.lines.find((line) => line.from === 'shared bloom' && line.to === 'file reef')!.count).toBe(3);
    expect(map.lines).toHaveLength(5);
  });

  it('tells what a change would touch, through what was published from it', () => {
    const map = fileMap(links, testKinds, both);
    expect(touchedBy(map, ['asset maps/kelp.exr'])).toEqual(
      new Set(['file glow', 'file reef', 'file dome', 'shared bloom']),
    );
    expect(touchedBy(map, ['file glow'])).toEqual(new Set(['shared bloom', 'file reef', 'file dome']));
    expect(touchedBy(map, ['file dome'])).toEqual(new Set());
  });

  it('leads from what writes an asset over it to what reads it', () => {
    const asset = (file: string, written: boolean) => ({
      file,
      what: 'asset' as const,
      name: 'cache/kelp.geo',
      written,
      count: 1,
    });
    const map = fileMap({ ...links, shared: [], uses: [asset('glow', true), asset('reef', false)] }, testKinds, both);
    expect(map.lines.map(({ from, to }) => `${from} > ${to}`)).toEqual([
      'asset cache/kelp.geo > file reef',
      'file glow > asset cache/kelp.geo',
    ]);
    expect(touchedBy(map, ['file glow'])).toEqual(new Set(['asset cache/kelp.geo', 'file reef']));
  });

  it('leaves assets out, or lines that follow from others, and touches the same then', () => {
    expect(fileMap(links, testKinds, { assets: false, fewest: false }).items).toHaveLength(4);
    const fewest = fileMap(links, testKinds, { assets: true, fewest: true });
    // that the reef reads the kelp follows from what it uses of the library
    expect(fewest.lines.some((line) => line.from === 'asset maps/kelp.exr' && line.to === 'file reef')).toBe(false);
    expect(touchedBy(fewest, ['asset maps/kelp.exr'])).toEqual(
      touchedBy(fileMap(links, testKinds, both), ['asset maps/kelp.exr']),
    );
  });

  it('takes assets of one folder that the same files use as one item', () => {
    const asset = (file: string, name: string) => ({ file, what: 'asset' as const, name, written: false, count: 1 });
    const uses = [
      asset('glow', 'cache/a.geo'),
      asset('glow', 'cache/b.geo'),
      asset('glow', 'cache/c.geo'),
      asset('reef', 'cache/c.geo'),
      asset('glow', 'maps/d.exr'),
    ];
    const map = fileMap({ ...links, shared: [], uses }, testKinds, both);
    expect(
      map.items.filter((item) => item.type === 'asset').map(({ title, name, paths }) => [title, name, paths]),
    ).toEqual([
      ['cache/ (2)', 'cache/', ['cache/a.geo', 'cache/b.geo']],
      ['c.geo', 'cache/c.geo', ['cache/c.geo']],
      ['d.exr', 'maps/d.exr', ['maps/d.exr']],
    ]);
    expect(map.lines.find((line) => line.to === 'file glow' && line.count === 2)).toBeDefined();
  });

  it('never overlaps, and takes a file that uses what is published from it', () => {
    const arbitrary = fc.array(
      fc.tuple(fc.nat({ max: 5 }), fc.constantFrom('shared' as const, 'asset' as const), fc.nat({ max: 4 })),
      { maxLength: 20 },
    );
    fc.assert(
      fc.property(arbitrary, (rows) => {
        const some: FileLinks = {
          files: Array.from({ length: 6 }, (_, i) => ({ id: `f${i}`, title: `File ${i}` })),
          shared: Array.from({ length: 5 }, (_, i) => ({ name: `s${i}`, title: `Kind ${i}`, from: `f${i}` })),
          uses: rows.map(([file, what, n]) => ({
            file: `f${file}`,
            what,
            name: what === 'shared' ? `s${n}` : `a/${n}.exr`,
            written: what === 'asset' && n % 2 === 0,
            count: 1,
          })),
        };
        const { items } = fileMap(some, testKinds, both);
        items.forEach((one, i) => {
          for (const other of items.slice(i + 1)) expect(overlaps(one, other)).toBe(false);
        });
      }),
      { numRuns: 30 },
    );
  });
});
