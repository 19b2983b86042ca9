import type { Rect } from '../../document/geometry.ts';
import { addTo } from '../../group-by.ts';
import { Sets } from '../layered/parts.ts';
import { closeGap } from './options.ts';
import type { Block } from './rows.ts';
import type { Laid, UnitGraph } from './units.ts';

/** How many nodes a part has at the most that stands with others, and how many they have together. */
const [mostInPart, mostTogether] = [30, 120];
/** Parts stand together where they cover so much of the smaller one. */
const togetherFrom = 0.25;

/**
 * Modules that people have put together though no wire joins them: small ones without frames whose places run into one
 * another. O(modules²).
 */
export function clustersOf(inside: UnitGraph, modules: readonly (readonly number[])[]): (readonly number[])[][] {
  const boxes = modules.map((part) => blockOf(inside, part, { width: 0, height: 0 }));
  const size = modules.map((part) => part.reduce((sum, u) => sum + inside.units[u]!.nodes.length, 0));
  const isSmall = modules.map((part, m) => size[m]! <= mostInPart && part.every((u) => inside.units[u]!.frame < 0));
  const sets = new Sets(modules.length);
  const together = size.slice();
  for (let a = 0; a < modules.length; a++) {
    for (let b = a + 1; b < modules.length; b++) {
      if (!isSmall[a] || !isSmall[b]) continue;
      const [one, other] = [boxes[a]!, boxes[b]!];
      const wide =
        Math.min(one.cx + one.nowWidth / 2, other.cx + other.nowWidth / 2) -
        Math.max(one.cx - one.nowWidth / 2, other.cx - other.nowWidth / 2);
      const high =
        Math.min(one.cy + one.nowHeight / 2, other.cy + other.nowHeight / 2) -
        Math.max(one.cy - one.nowHeight / 2, other.cy - other.nowHeight / 2);
      const smaller = Math.min(one.nowWidth * one.nowHeight, other.nowWidth * other.nowHeight);
      const isOver = wide > 0 && high > 0 && wide * high >= togetherFrom * smaller;
      // one close below the other, as this page places what stands together
      const isBelow = wide >= Math.min(one.nowWidth, other.nowWidth) / 2 && high > -closeGap - 4;
      if (!isOver && !isBelow) continue;
      const [p, q] = [sets.find(a), sets.find(b)];
      if (p === q || together[p]! + together[q]! > mostTogether) continue;
      sets.join(p, q);
      together[sets.find(p)] = together[p]! + together[q]!;
    }
  }
  const clusters = new Map<number, (readonly number[])[]>();
  modules.forEach((part, m) => {
    const root = sets.find(m);
    addTo(clusters, root, part);
  });
  return [...clusters.values()];
}

/**
 * Where strays go: the free corner nearest to the end of the flow, or a row of their own at the right. `taken` is what
 * stands there. O(n²) in the corners tried.
 */
export function cornerFor(
  taken: readonly Rect[],
  area: { readonly width: number; readonly height: number },
  loose: Pick<Laid, 'width' | 'height'>,
  gap: number,
): { x: number; y: number } {
  if (taken.length === 0) return { x: 0, y: 0 };
  const isFree = (x: number, y: number): boolean =>
    taken.every(
      (rect) =>
        x >= rect.x + rect.width + gap ||
        x + loose.width + gap <= rect.x ||
        y >= rect.y + rect.height + gap ||
        y + loose.height + gap <= rect.y,
    );
  const [right, low] = [area.width - loose.width, area.height - loose.height];
  const tries = [low, ...taken.map((rect) => rect.y + rect.height + gap), ...taken.map((rect) => rect.y), 0]
    .filter((y) => y >= 0 && y <= low)
    .sort((a, b) => b - a);
  if (right >= 0) for (const y of tries) if (isFree(right, y)) return { x: right, y };
  return { x: Math.max(0, right), y: area.height + gap };
}

/** A part as a block for rows: as large as it is laid out, with what it covers now. */
export function blockOf(inside: UnitGraph, group: readonly number[], laid: Pick<Laid, 'width' | 'height'>): Block {
  let [left, top, right, bottom] = [Infinity, Infinity, -Infinity, -Infinity];
  for (const u of group) {
    const { x, y, width, height } = inside.units[u]!;
    left = Math.min(left, x);
    top = Math.min(top, y);
    right = Math.max(right, x + width);
    bottom = Math.max(bottom, y + height);
  }
  return {
    width: laid.width,
    height: laid.height,
    cx: (left + right) / 2,
    cy: (top + bottom) / 2,
    nowWidth: right - left,
    nowHeight: bottom - top,
  };
}
