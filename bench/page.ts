import { compileWithLikeness } from '@basitax/core/arrange/compile';
import { Containers } from '@basitax/core/arrange/page/containers';
import { Repeats } from '@basitax/core/arrange/page/repeats';
import { type Doc, indexOf, nodesWithin } from '@basitax/core/document/doc';
import { frameRects, type Rect, rectOf, unite } from '@basitax/core/document/geometry';
import type { Id } from '@basitax/core/document/ids';
import { compareFingerprints, fingerprint } from '@basitax/core/inspect/fingerprint';
import { readingWindow } from '@basitax/core/inspect/lines';
import { type Measures, measureGraph } from '@basitax/core/inspect/measure';
import { framesOnFrames } from '@basitax/core/inspect/page-faults';
import { scoreOfDoc } from '@basitax/core/inspect/readability';
import { arranged, filesWithHubs, kinds } from './hub-files.ts';

interface Row {
  readonly file: string;
  readonly nodes: number;
  /**
   * Arranging alone, in milliseconds, and over the time of routing the result, which is the reference in the same run.
   */
  readonly ms: number;
  readonly ofRouting: string;
  /** After ÷ before. */
  readonly fit: string;
  readonly crossings: string;
  readonly windows: string;
  readonly shape: string;
  /**
   * The share of pairs of outer frames that still stand left of or above one another, by the axis on which they are
   * further apart.
   */
  readonly order: string;
  /** The share of nodes of repeated parts that stand in theirs as the same ones do in the first. */
  readonly alike: string;
  readonly score: string;
  readonly linkedCrossings: string;
  readonly linkedWindows: string;
  /**
   * Overlaps, wires through nodes, frames on frames, changed functions, nodes that a second arrange moves: all are to
   * be 0.
   */
  readonly wrong: string;
}

interface Figures {
  readonly measures: Measures;
  readonly zoom: number;
  readonly shape: number;
  readonly frames: ReadonlyMap<Id, Rect>;
  readonly framesOnFrames: number;
}

function figuresOf(doc: Doc): Figures {
  const frames = frameRects(doc, kinds, 'root');
  const all = unite([
    ...indexOf(doc)
      .nodesIn('root')
      .map((node) => rectOf(doc, kinds, node)),
    ...frames.values(),
  ])!;
  return {
    measures: measureGraph(doc, kinds, 'root'),
    zoom: Math.min(readingWindow.width / all.width, readingWindow.height / all.height),
    shape: all.width / all.height,
    frames,
    framesOnFrames: framesOnFrames(doc, kinds, 'root').length,
  };
}

function orderKept(doc: Doc, before: Figures, after: Figures): number {
  const outer = [...doc.frames.values()]
    .filter((frame) => frame.parent === undefined && nodesWithin(doc, frame.id).length > 0)
    .map((frame) => frame.id);
  const middle = ({ frames }: Figures, id: Id): { x: number; y: number } => {
    const { x, y, width, height } = frames.get(id)!;
    return { x: x + width / 2, y: y + height / 2 };
  };
  let [pairs, kept] = [0, 0];
  outer.forEach((a, i) => {
    for (const b of outer.slice(i + 1)) {
      const [was, is] = [before, after].map((figures) => ({
        x: middle(figures, b).x - middle(figures, a).x,
        y: middle(figures, b).y - middle(figures, a).y,
      })) as [{ x: number; y: number }, { x: number; y: number }];
      pairs++;
      if (Math.abs(was.x) >= Math.abs(was.y) ? was.x * is.x > 0 : was.y * is.y > 0) kept++;
    }
  });
  return pairs === 0 ? 1 : kept / pairs;
}

function alikeShare(doc: Doc): number {
  const nodes = indexOf(doc).nodesIn('root');
  const { graph } = compileWithLikeness(doc, kinds, 'root', nodes);
  const repeats = new Repeats(graph, new Containers(graph));
  const repeated = repeats.repeated();
  return repeated === 0 ? 1 : 1 - repeats.unlike().length / repeated;
}

/**
 * Whole files with hubs arranged with everything at its default, and with links: what became of each. Seeds 1 to 8 of
 * the generator, as they come.
 */
export function page(only?: string): Row[] {
  return filesWithHubs(only).map(([file, doc]): Row => {
    const before = figuresOf(doc);
    const started = performance.now();
    const after = arranged(doc, {});
    const ms = performance.now() - started;
    const routing = performance.now();
    const now = figuresOf(after);
    const routed = performance.now() - routing;
    const linked = arranged(doc, { links: true });
    const { measures: less } = figuresOf(linked);
    const twice = arranged(after, {});
    const moved = [...after.nodes.values()].filter(
      (node) => twice.nodes.get(node.id)!.x !== node.x || twice.nodes.get(node.id)!.y !== node.y,
    ).length;
    const changed = [after, linked].filter(
      (one) => compareFingerprints(fingerprint(doc, kinds), fingerprint(one, kinds)) !== 'same',
    ).length;
    const ratio = (a: number, b: number): string =>
      b === 0 ? (a === 0 ? '–' : `0 → ${a}`) : `${b} → ${a}: ${(a / b).toFixed(2)}`;
    return {
      file,
      nodes: before.measures.nodes,
      ms: Math.round(ms),
      ofRouting: (ms / routed).toFixed(2),
      fit: (now.zoom / before.zoom).toFixed(2),
      crossings: ratio(now.measures.crossings, before.measures.crossings),
      windows: ratio(now.measures.windows, before.measures.windows),
      shape: now.shape.toFixed(2),
      order: orderKept(doc, before, now).toFixed(2),
      alike: alikeShare(after).toFixed(2),
      score: `${scoreOfDoc(doc, kinds).toFixed(0)} → ${scoreOfDoc(after, kinds).toFixed(0)}`,
      linkedCrossings: ratio(less.crossings, before.measures.crossings),
      linkedWindows: ratio(less.windows, before.measures.windows),
      wrong: [now.measures.overlaps, now.measures.throughNodes, now.framesOnFrames, changed, moved].join(' '),
    };
  });
}
