import { execFileSync } from 'node:child_process';
import { mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { noScheme } from '@basitax/core/color/scheme';
import type { Doc } from '@basitax/core/document/doc';
import { type Rect, rectOf } from '@basitax/core/document/geometry';
import { Kinds } from '@basitax/core/document/kinds';
import { formatById, readFile } from '@basitax/core/formats/formats';
import { graphSheet } from '@basitax/core/handover/page';
import { sheetColors } from '@basitax/core/sheet/colors';
import { catalogue } from '@basitax/demo/catalogue';
import { demoFiles } from '@basitax/demo/files';
import { PNG } from 'pngjs';
import { afterAll, describe, expect, it } from 'vitest';
import { sheetPng } from './png.ts';

// GraphML and GEXF that we write, drawn by Debian's igraph (on cairo), which reads the places itself.

const kinds = new Kinds(catalogue);
const folder = mkdtempSync(join(tmpdir(), 'basitax-drawn-'));
afterAll(() => rmSync(folder, { recursive: true }));

interface Drawing {
  readonly picture: PNG;
  readonly left: number;
  readonly top: number;
  readonly nodes: number;
  readonly edges: number;
}

function drawn(format: 'graphml' | 'gexf', doc: Doc): Drawing {
  const [source, target] = [join(folder, `a.${format}`), join(folder, 'a.png')];
  writeFileSync(source, formatById(format).write(doc, kinds));
  const told = execFileSync('/usr/bin/python3', [
    join(import.meta.dirname, 'igraph-picture.py'),
    format,
    source,
    target,
  ]);
  return { ...JSON.parse(told.toString()), picture: PNG.sync.read(readFileSync(target)) } as Drawing;
}

const placeOf = ({ width }: PNG, x: number, y: number): number => (Math.round(y) * width + Math.round(x)) * 4;
const colorAt = (picture: PNG, x: number, y: number): number => picture.data.readUInt32BE(placeOf(picture, x, y));
const isRed = (data: Buffer, at: number): boolean =>
  (data[at] ?? 0) > 230 && (data[at + 1] ?? 0) < 60 && (data[at + 2] ?? 0) < 60;

/** How many patches of the colour of nodes there are: as many as nodes, as long as none lies over another. */
function patches({ data, width, height }: PNG): number {
  const isOpen = new Uint8Array(width * height);
  for (let i = 0; i < isOpen.length; i++) isOpen[i] = isRed(data, i * 4) ? 1 : 0;
  let found = 0;
  for (let i = 0; i < isOpen.length; i++) {
    if (!isOpen[i]) continue;
    found++;
    for (const stack = [i]; stack.length > 0; ) {
      const at = stack.pop() as number;
      if (!isOpen[at]) continue;
      isOpen[at] = 0;
      stack.push(at - 1, at + 1, at - width, at + width);
    }
  }
  return found;
}

/** How many patches the nodes make where they lie by themselves, for one of the files is a mess in which some overlap. */
function patchesOf(doc: Doc): number {
  const rects = [...doc.nodes.values()].map((node) => rectOf(doc, kinds, node));
  const group = rects.map((_, i) => i);
  const touch = (a: Rect, b: Rect) =>
    a.x <= b.x + b.width && b.x <= a.x + a.width && a.y <= b.y + b.height && b.y <= a.y + a.height;
  for (const [i, a] of rects.entries())
    for (const [k, b] of rects.slice(0, i).entries()) {
      const [mine, theirs] = [group[i], group[k]];
      if (touch(a, b)) for (const [at, one] of group.entries()) if (one === theirs) group[at] = mine as number;
    }
  return new Set(group).size;
}

const example = readFile(
  'a.gv',
  'digraph { rankdir=LR; a -> {b c d}; b -> e; c -> e; d -> f -> e; "a long name" -> f }',
  kinds,
).doc;
const docs = [...demoFiles.slice(0, 2).map((file) => file.build()), example].map((doc): [string, Doc] => [
  doc.head.title,
  doc,
]);

describe.each(['graphml', 'gexf'] as const)('%s, drawn by igraph', (format) => {
  it.each(docs)('has each node where our own picture has it, and none over another: %s', (_title, doc) => {
    const { picture, left, top, nodes, edges } = drawn(format, doc);
    expect([nodes, edges, patches(picture)]).toEqual([
      doc.nodes.size,
      doc.wires.size,
      format === 'gexf' ? doc.nodes.size : patchesOf(doc),
    ]);
    const sheet = graphSheet(doc, kinds, sheetColors.paper, noScheme);
    const ours = PNG.sync.read(Buffer.from(sheetPng(sheet, 1)));
    const [all] = sheet.shapes;
    if (all?.type !== 'group') throw new Error('A sheet is one group, at its place.');
    const ground = colorAt(ours, 1, 1);
    for (const node of doc.nodes.values()) {
      const { x, y, width, height } = rectOf(doc, kinds, node);
      const corners: [number, number][] =
        format === 'gexf'
          ? [[0, 0]]
          : [2, width - 2].flatMap((dx) => [2, height - 2].map((dy): [number, number] => [dx, dy]));
      for (const [dx, dy] of corners)
        expect(isRed(picture.data, placeOf(picture, x + dx - left, y + dy - top)), `${node.name} +${dx} +${dy}`).toBe(
          true,
        );
      const body = colorAt(ours, x + all.x + width / 2, y + all.y + height - 3);
      expect(body, node.name).not.toEqual(ground);
    }
  });
});
