import { z } from 'zod';
import type { Doc } from '../document/doc.ts';
import { indexOf } from '../document/doc.ts';
import type { Id } from '../document/ids.ts';
import type { Kinds } from '../document/kinds.ts';
import type { Frame, GraphNode } from '../document/schema.ts';
import { hues, sketchColors, type Theme } from '../inspect/sketch-colors.ts';
import { must } from '../must.ts';
import { contrast, hexOf, mixed, parseColor, type Rgb, standingOut } from './contrast.ts';

const hex = z.string().regex(/^#[0-9a-fA-F]{6}$/, 'is not a colour such as #2f6f8f');

/** A team's colours, by category. A category that is not named has the hue of the catalogue. */
export const schemeSchema = z.object({ categories: z.record(z.string().min(1).max(100), hex).default({}) });
export type Scheme = z.infer<typeof schemeSchema>;
export const noScheme: Scheme = { categories: {} };

/**
 * The colours that are offered first: Okabe & Ito, “Color universal design” (2008), told apart by colour-blind eyes.
 */
export const palette: readonly { readonly name: string; readonly color: string }[] = [
  { name: 'Black', color: '#000000' },
  { name: 'Orange', color: '#e69f00' },
  { name: 'Sky blue', color: '#56b4e9' },
  { name: 'Bluish green', color: '#009e73' },
  { name: 'Yellow', color: '#f0e442' },
  { name: 'Blue', color: '#0072b2' },
  { name: 'Vermilion', color: '#d55e00' },
  { name: 'Reddish purple', color: '#cc79a7' },
];

/** How far a colour has to stand out from the ground and from frames to be seen (WCAG 2.2, 1.4.11: 3:1). */
export const leastContrast = 3;

/** What colours are drawn on in a theme: the ground, and frames without a colour of their own. */
export const groundsOf = (theme: Theme): readonly Rgb[] =>
  [sketchColors[theme].ground, sketchColors[theme].frame].map((color) => must(parseColor(color)));

const shown = new Map<string, string>();

/**
 * A colour as it is drawn in a theme: darker on paper or lighter at night, as far as that takes to be seen. Anything
 * that is no colour stays what it is not: undefined.
 */
export function themed(color: string | undefined, theme: Theme): string | undefined {
  if (!color) return undefined;
  const key = `${theme} ${color}`;
  let found = shown.get(key);
  if (found === undefined) {
    const rgb = parseColor(color);
    if (!rgb) return undefined;
    found = hexOf(standingOut(rgb, groundsOf(theme), leastContrast));
    if (shown.size < 5000) shown.set(key, found);
  }
  return found;
}

/** The least contrast that a colour has with what lies behind it in a theme, before it is made to be seen. */
export function seenOn(color: string, theme: Theme): number {
  const rgb = parseColor(color);
  return rgb ? Math.min(...groundsOf(theme).map((ground) => contrast(rgb, ground))) : 1;
}

/** The colour that the scheme gives a kind, as it is drawn in a theme. */
export function schemeColor(kinds: Kinds, kind: string, scheme: Scheme, theme: Theme): string {
  const category = kinds.category(kind);
  return themed(scheme.categories[category.id], theme) ?? hues[theme][category.hue] ?? must(hues[theme][0]);
}

/** The colour of a node: its own, else that of its category in the scheme. */
export function nodeColor(kinds: Kinds, node: GraphNode, scheme: Scheme, theme: Theme): string {
  return themed(node.color, theme) ?? schemeColor(kinds, node.kind, scheme, theme);
}

/** Does a node or frame have a colour of its own that the scheme would not give it? Frames have none by the scheme. */
export function differs(kinds: Kinds, item: GraphNode | Frame, scheme: Scheme): boolean {
  if (!parseColor(item.color)) return false;
  if (!('kind' in item)) return true;
  return themed(item.color, 'paper') !== schemeColor(kinds, item.kind, scheme, 'paper');
}

/**
 * What a frame is filled and edged with, and what is legible on its tab. Undefined where it has no colour of its own.
 */
export function frameColors(
  color: string | undefined,
  theme: Theme,
): { readonly fill: string; readonly edge: string; readonly onEdge: string } | undefined {
  const edge = parseColor(themed(color, theme));
  if (!edge) return undefined;
  const ground = must(parseColor(sketchColors[theme].frame));
  // so little that ink on it stays legible and hues on it stay seen
  return { fill: hexOf(mixed(ground, edge, 0.14)), edge: hexOf(edge), onEdge: onColor(edge) };
}

/** Black or white, whichever stands out more from a colour. */
export function onColor(color: Rgb): string {
  const [black, white]: [Rgb, Rgb] = [
    [0, 0, 0],
    [255, 255, 255],
  ];
  return contrast(color, white) >= contrast(color, black) ? hexOf(white) : hexOf(black);
}

/** One line of the legend. */
export interface LegendRow {
  readonly category: string;
  readonly title: string;
  readonly hue: number;
  readonly nodes: readonly Id[];
  /** Those of its nodes that have another colour of their own. */
  readonly differing: readonly Id[];
}

/** The categories of a graph, the most used first, and the frames with colours of their own. O(nodes). */
export function legend(
  doc: Doc,
  kinds: Kinds,
  graph: Id,
  scheme: Scheme,
): { readonly rows: readonly LegendRow[]; readonly frames: readonly Id[] } {
  const rows = new Map<string, { category: string; title: string; hue: number; nodes: Id[]; differing: Id[] }>();
  for (const node of indexOf(doc).nodesIn(graph)) {
    const category = kinds.category(node.kind);
    const row = rows.get(category.id) ?? {
      category: category.id,
      title: category.title,
      hue: category.hue,
      nodes: [],
      differing: [],
    };
    rows.set(category.id, row);
    row.nodes.push(node.id);
    if (differs(kinds, node, scheme)) row.differing.push(node.id);
  }
  const frames = indexOf(doc)
    .framesIn(graph)
    .filter((frame) => differs(kinds, frame, scheme))
    .map((frame) => frame.id);
  return {
    rows: [...rows.values()].sort((a, b) => b.nodes.length - a.nodes.length || (a.title < b.title ? -1 : 1)),
    frames,
  };
}
