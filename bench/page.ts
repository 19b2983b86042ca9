import { compileGraph } from '@basitax/core/arrange/compile';
import { layOutPage } from '@basitax/core/arrange/page/page';
import { type Doc, indexOf, nodesWithin } from '@basitax/core/document/doc';
import { frameRects, overlaps, rectOf, unite } from '@basitax/core/document/geometry';
import type { Kinds } from '@basitax/core/document/kinds';
import { measureGraph } from '@basitax/core/inspect/measure';
import { modulesDoc } from '@basitax/core/tests/modules';
import { kinds } from '@basitax/demo/builder';
import { demoFiles } from '@basitax/demo/files';
import { draw } from '/tmp/draw.ts';

const hubs = process.argv[2] && process.argv[2] !== 'all' ? process.argv[2].split(',') : ['tide-cues', 'plankton-shoal', 'kelp-growth', 'reef-night', 'water-shading'];
function figures(doc: Doc, kinds: Kinds) {
  const m = measureGraph(doc, kinds, 'root');
  const rects = [...frameRects(doc, kinds, 'root').entries()];
  const all = unite([
    ...indexOf(doc)
      .nodesIn('root')
      .map((n) => rectOf(doc, kinds, n)),
    ...rects.map(([, r]) => r),
  ])!;
  let fo = 0;
  const parents = (id: string): string[] => {
    const out: string[] = [];
    for (let f = doc.frames.get(id)?.parent; f; f = doc.frames.get(f)?.parent) out.push(f);
    return out;
  };
  rects.forEach(([a, r], i) =>
    rects.forEach(([b, s], k) => {
      if (k > i && overlaps(r, s) && !parents(a).includes(b) && !parents(b).includes(a)) fo++;
    }),
  );
  return { m, fit: Math.min(1280 / all.width, 800 / all.height), shape: all.width / all.height, fo, rects: new Map(rects) };
}
function order(doc: Doc, a: ReturnType<typeof figures>, b: ReturnType<typeof figures>) {
  const outer = [...doc.frames.values()].filter((f) => !f.parent && nodesWithin(doc, f.id).length > 0).map((f) => f.id);
  let [n, ok] = [0, 0];
  outer.forEach((p, i) =>
    outer.forEach((q, k) => {
      if (k <= i) return;
      const [r, s, r2, s2] = [a.rects.get(p)!, a.rects.get(q)!, b.rects.get(p)!, b.rects.get(q)!];
      const [dx, dy] = [s.x + s.width / 2 - r.x - r.width / 2, s.y + s.height / 2 - r.y - r.height / 2];
      const [ex, ey] = [s2.x + s2.width / 2 - r2.x - r2.width / 2, s2.y + s2.height / 2 - r2.y - r2.height / 2];
      n++;
      if (Math.abs(dx) >= Math.abs(dy) ? dx * ex > 0 : dy * ey > 0) ok++;
    }),
  );
  return n ? ok / n : 1;
}
const docs: [string, Doc][] = [...hubs.map((slug): [string, Doc] => [slug, demoFiles.find((f) => f.slug === slug)!.build()])];
if (process.argv[3] !== 'demo') for (const s of [1, 2, 3, 4, 5, 6]) docs.push([`parts ${s}`, modulesDoc(s)]);
const rows = [];
for (const [name, doc] of docs) {
  const before = figures(doc, kinds);
  const nodes = [...indexOf(doc).nodesIn('root')].sort((a, b) => (a.id < b.id ? -1 : 1));
  const t0 = performance.now();
  const c = compileGraph(doc, kinds, 'root', nodes);
  const { x, y } = layOutPage(c.graph, { spacing: { along: +(process.env.ALONG ?? 56), across: 26 }, keep: 0.3, proportion: 1.6 });
  const ms = performance.now() - t0;
  const moved = new Map(doc.nodes);
  nodes.forEach((n, i) => moved.set(n.id, { ...n, x: x[i]!, y: y[i]! }));
  const after = { ...doc, nodes: moved };
  if (process.env.DRAW) {
    draw(doc, kinds, `/tmp/${name.replace(' ', '')}-a.svg`);
    draw(after, kinds, `/tmp/${name.replace(' ', '')}-b.svg`);
  }
  const t1 = performance.now();
  const fig = figures(after, kinds);
  const ms2 = performance.now() - t1;
  rows.push({
    name,
    nodes: nodes.length,
    ms: Math.round(ms),
    route: Math.round(ms2),
    fit: `${(before.fit * 100).toFixed(1)} ${(fig.fit * 100).toFixed(1)} ${(fig.fit / before.fit).toFixed(2)}`,
    shape: fig.shape.toFixed(2),
    cross: `${before.m.crossings} ${fig.m.crossings} ${(fig.m.crossings / before.m.crossings).toFixed(2)}`,
    win: (fig.m.windows / before.m.windows).toFixed(2),
    order: order(doc, before, fig).toFixed(2),
    thr: fig.m.throughNodes,
    ovl: fig.m.overlaps,
    fo: fig.fo,
  });
}
console.table(rows);
