/** A block to be placed on a page, with where its middle lies now. Pixels at 100 % zoom. */
export interface Block {
  readonly width: number;
  readonly height: number;
  readonly cx: number;
  readonly cy: number;
  /** What it covers now, which tells whether it stands beside or above others. */
  readonly nowWidth: number;
  readonly nowHeight: number;
}

export interface Placed {
  readonly x: Float64Array;
  readonly y: Float64Array;
  readonly width: number;
  readonly height: number;
  /** What speaks against it: a small fit and broken order. */
  readonly cost: number;
}

export interface RowOptions {
  /** Width ÷ height that is wanted. */
  readonly proportion: number;
  readonly gapX: number;
  readonly gapY: number;
  /** 0: only the fit counts; 1: only the present order. */
  readonly keep: number;
  /** Room that is taken beside all rows, such as by sources and ends. */
  readonly beside: number;
  /** What the whole covers now, where it should not become smaller to the eye. */
  readonly now?: { readonly width: number; readonly height: number };
}

/**
 * Places blocks in rows so that the whole fits a window of the wanted proportion as large as it can, and what stands
 * left of or above another stays so (after Domrös, Lucas, von Hanxleden & Jansen, “On order-preserving, gap-avoiding
 * rectangle packing”, IVAPP 2021). Tried are the rows in which the blocks stand now, and rows of several widths in
 * reading order; the best by fit and order is taken.
 * O(widths · n²).
 */
export function placeRows(blocks: readonly Block[], options: RowOptions): Placed {
  const stacks = rowsNow(blocks).map((row) => stacksOf(blocks, row, options.gapY));
  const piles = stacks.flat();
  const placed = placePiles(
    piles.map((pile) => pileOf(blocks, pile, options.gapY)),
    stacks,
    options,
  );
  const [x, y] = [new Float64Array(blocks.length), new Float64Array(blocks.length)];
  piles.forEach((pile, p) => {
    let top = placed.y[p]!;
    for (const i of pile) {
      x[i] = placed.x[p]!;
      y[i] = top;
      top += blocks[i]!.height + options.gapY;
    }
  });
  return { ...placed, x, y };
}

/**
 * Blocks of a row that stand above one another now stay so, as far as that makes the row no higher. From left to right.
 * O(n²) at worst.
 */
function stacksOf(blocks: readonly Block[], row: readonly number[], gap: number): number[][] {
  const highest = row.reduce((most, i) => Math.max(most, blocks[i]!.height), 0);
  const stacks: number[][] = [];
  for (const i of row) {
    const { cx, nowWidth, height } = blocks[i]!;
    const home = stacks.find((stack) => {
      const least = Math.min(
        ...stack.map(
          (k) =>
            Math.min(
              (nowWidth + blocks[k]!.nowWidth) / 2 - Math.abs(cx - blocks[k]!.cx),
              nowWidth,
              blocks[k]!.nowWidth,
            ) / Math.min(nowWidth, blocks[k]!.nowWidth),
        ),
      );
      return least >= 0.5 && stack.reduce((sum, k) => sum + blocks[k]!.height + gap, 0) + height <= highest * 1.1;
    });
    if (home) home.push(i);
    else stacks.push([i]);
  }
  for (const stack of stacks) stack.sort((a, b) => blocks[a]!.cy - blocks[b]!.cy || a - b);
  return stacks;
}

function pileOf(blocks: readonly Block[], pile: readonly number[], gap: number): Block {
  if (pile.length === 1) return blocks[pile[0]!]!;
  let [left, top, right, bottom] = [Infinity, Infinity, -Infinity, -Infinity];
  for (const i of pile) {
    const { cx, cy, nowWidth, nowHeight } = blocks[i]!;
    left = Math.min(left, cx - nowWidth / 2);
    right = Math.max(right, cx + nowWidth / 2);
    top = Math.min(top, cy - nowHeight / 2);
    bottom = Math.max(bottom, cy + nowHeight / 2);
  }
  return {
    width: Math.max(...pile.map((i) => blocks[i]!.width)),
    height: pile.reduce((sum, i) => sum + blocks[i]!.height + gap, -gap),
    cx: (left + right) / 2,
    cy: (top + bottom) / 2,
    nowWidth: right - left,
    nowHeight: bottom - top,
  };
}

/** Tries the rows that there are, and others in the same order; `rows` holds what each row is made of. */
function placePiles(blocks: readonly Block[], rows: readonly (readonly unknown[])[], options: RowOptions): Placed {
  let next = 0;
  const now = rows.map((row) => row.map(() => next++));
  const order = now.flat();
  const candidates = [
    now,
    ...[2, 3, 4].map((parts) => now.flatMap((row) => inParts(row, parts))),
    ...wraps(blocks, order, options),
  ];
  let best: Placed | undefined;
  let least = Number.POSITIVE_INFINITY;
  const seen = new Set<string>();
  for (const one of candidates) {
    const key = one.map((row) => row.length).join(' ');
    if (seen.has(key)) continue;
    seen.add(key);
    const level = place(blocks, one, options);
    const change = one === now ? 0 : changeCost;
    for (const placed of [level, pulledUp(blocks, order, level, options)]) {
      const cost = costOf(blocks, placed, options) + (placed === level ? 0 : unevenCost) + change;
      if (cost < least - 1e-9) [best, least] = [{ ...placed, cost }, cost];
    }
  }
  return best ?? { x: new Float64Array(0), y: new Float64Array(0), width: 0, height: 0, cost: 0 };
}

/**
 * What is smaller than it was counts so much more, and so does a shape that is further than the last from what is
 * wanted, as a logarithm.
 */
const [lostWorth, shapeWorth, mostShape] = [4, 5, 0.5];
/** The whole should not become smaller, and from so much larger on a larger one counts little: as logarithms. */
const [leastGain, enoughGain, moreWorth] = [-0.03, 0.25, 0.3];
/**
 * How much a broken pair counts against fit: all of them, at the highest keep, as much as a window e¹² times as large.
 */
const orderWorth = 12;

function costOf(
  blocks: readonly Block[],
  placed: Omit<Placed, 'cost'>,
  { proportion, keep, beside, now }: RowOptions,
): number {
  const [width, height] = [placed.width + beside, placed.height];
  const zoom = Math.min(proportion / width, 1 / height);
  const gain = now === undefined ? 0 : Math.log(zoom / Math.min(proportion / now.width, 1 / now.height));
  const lost = Math.max(0, leastGain - gain);
  // what is much larger than before need not be larger still
  const more = now === undefined ? 0 : Math.max(0, gain - enoughGain);
  const shape = Math.abs(Math.log(width / height / proportion));
  return (
    -Math.log(zoom) +
    (now === undefined ? 0 : lostWorth * lost) +
    (1 - moreWorth) * more +
    shapeWorth * Math.max(0, shape - mostShape) +
    orderWorth * keep * brokenPairs(blocks, placed)
  );
}

/** The share of pairs standing apart now, beside or above one another, that no longer stand in that order. O(n²). */
function brokenPairs(blocks: readonly Block[], { x, y }: Pick<Placed, 'x' | 'y'>): number {
  let [pairs, broken] = [0, 0];
  for (let a = 0; a < blocks.length; a++) {
    for (let b = a + 1; b < blocks.length; b++) {
      const [one, other] = [blocks[a]!, blocks[b]!];
      const [dx, dy] = [other.cx - one.cx, other.cy - one.cy];
      if (Math.abs(dx) > (one.nowWidth + other.nowWidth) / 4) {
        pairs++;
        if ((x[b]! + other.width / 2 - x[a]! - one.width / 2) * Math.sign(dx) <= 0) broken++;
      }
      if (Math.abs(dy) > (one.nowHeight + other.nowHeight) / 4) {
        pairs++;
        if ((y[b]! + other.height / 2 - y[a]! - one.height / 2) * Math.sign(dy) <= 0) broken++;
      }
    }
  }
  return pairs === 0 ? 0 : broken / pairs;
}

/**
 * The rows in which blocks stand now, from top to bottom, each from left to right. The high ones make the rows, low
 * ones join the row that they stand beside, if any. O(n log n + n · rows).
 */
export function rowsNow(blocks: readonly Block[]): number[][] {
  const byHeight = blocks.map(({ nowHeight }) => nowHeight).sort((a, b) => b - a);
  const usual = byHeight[byHeight.length >> 1] ?? 0;
  const order = blocks
    .map((_, i) => i)
    .sort((a, b) => blocks[a]!.cy - blocks[b]!.cy || blocks[a]!.cx - blocks[b]!.cx || a - b);
  interface Row {
    readonly members: number[];
    middle: number;
    height: number;
  }
  const rows: Row[] = [];
  const join = (row: Row, i: number): void => {
    row.members.push(i);
    row.middle += (blocks[i]!.cy - row.middle) / row.members.length;
    row.height += (blocks[i]!.nowHeight - row.height) / row.members.length;
  };
  const start = (i: number): void =>
    void rows.push({ members: [i], middle: blocks[i]!.cy, height: blocks[i]!.nowHeight });
  const isHigh = (i: number): boolean => blocks[i]!.nowHeight >= usual / 2;
  for (const i of order) {
    if (!isHigh(i)) continue;
    const row = rows[rows.length - 1];
    // a block that is much higher than a row stands in it where its middle does
    if (row && blocks[i]!.cy - row.middle < Math.max(8, Math.min(blocks[i]!.nowHeight, row.height) / 2)) join(row, i);
    else start(i);
  }
  for (const i of order) {
    if (isHigh(i)) continue;
    const near = rows.reduce<Row | undefined>(
      (best, row) =>
        best && Math.abs(best.middle - blocks[i]!.cy) <= Math.abs(row.middle - blocks[i]!.cy) ? best : row,
      undefined,
    );
    if (near && Math.abs(near.middle - blocks[i]!.cy) < Math.max(8, near.height / 2)) near.members.push(i);
    else {
      start(i);
      rows.sort((a, b) => a.middle - b.middle);
    }
  }
  return rows.map(({ members }) => members.sort((a, b) => blocks[a]!.cx - blocks[b]!.cx || a - b));
}

/** A row as some rows of about equally many, one below the other: what stood in one column stays in one. */
function inParts(row: readonly number[], parts: number): number[][] {
  const per = Math.ceil(row.length / parts);
  return Array.from({ length: Math.ceil(row.length / per) }, (_, k) => row.slice(k * per, (k + 1) * per));
}

/** The same order broken into rows of some widths, and into rows of equally many. */
function wraps(
  blocks: readonly Block[],
  order: readonly number[],
  { gapX, gapY, proportion }: RowOptions,
): number[][][] {
  const area = order.reduce((sum, i) => sum + (blocks[i]!.width + gapX) * (blocks[i]!.height + gapY), 0);
  const found: number[][][] = [];
  for (let k = 0.5; k < 2.4; k *= 1.1) {
    const width = Math.sqrt(area * proportion) * k;
    const rows: number[][] = [];
    let used = Number.POSITIVE_INFINITY;
    for (const i of order) {
      if (used + gapX + blocks[i]!.width > width) {
        rows.push([]);
        used = -gapX;
      }
      rows[rows.length - 1]!.push(i);
      used += gapX + blocks[i]!.width;
    }
    found.push(rows);
  }
  for (let count = 1; count <= Math.min(order.length, 12); count++) {
    const per = Math.ceil(order.length / count);
    found.push(Array.from({ length: Math.ceil(order.length / per) }, (_, r) => order.slice(r * per, (r + 1) * per)));
  }
  return found;
}

/** Other rows than those there are have to be so much better, as a logarithm of the fit. */
const changeCost = 0.1;

/** What it costs that rows are no longer level, as a logarithm of the fit. */
const unevenCost = 0.12;

/** Each block as high up as those above it let it, so that tall ones leave no holes. O(n²). */
function pulledUp(
  blocks: readonly Block[],
  order: readonly number[],
  { x, width }: Omit<Placed, 'cost'>,
  { gapX, gapY }: RowOptions,
): Omit<Placed, 'cost'> {
  const y = new Float64Array(blocks.length);
  let height = 0;
  order.forEach((i, k) => {
    const [left, right] = [x[i]! - gapX, x[i]! + blocks[i]!.width + gapX];
    let top = 0;
    for (const j of order.slice(0, k))
      if (x[j]! < right && x[j]! + blocks[j]!.width > left) top = Math.max(top, y[j]! + blocks[j]!.height + gapY);
    y[i] = top;
    height = Math.max(height, top + blocks[i]!.height);
  });
  return { x, y, width, height };
}

/** Columns are lined up where that makes the page at most so much wider. */
const alignedCost = 1.12;

function place(
  blocks: readonly Block[],
  rows: readonly (readonly number[])[],
  { gapX, gapY }: RowOptions,
): Omit<Placed, 'cost'> {
  const [x, y] = [new Float64Array(blocks.length), new Float64Array(blocks.length)];
  const widths = rows.map((row) => row.reduce((sum, i) => sum + blocks[i]!.width + gapX, -gapX));
  const widest = Math.max(0, ...widths);
  const columns: number[] = [];
  for (const row of rows) row.forEach((i, k) => (columns[k] = Math.max(columns[k] ?? 0, blocks[i]!.width)));
  const aligned = columns.reduce((sum, width) => sum + width + gapX, -gapX);
  const isGrid = rows.length > 1 && aligned <= widest * alignedCost;
  let top = 0;
  for (const row of rows) {
    let left = 0;
    let height = 0;
    row.forEach((i, k) => {
      x[i] = left;
      y[i] = top;
      left += (isGrid ? columns[k]! : blocks[i]!.width) + gapX;
      height = Math.max(height, blocks[i]!.height);
    });
    top += height + gapY;
  }
  return { x, y, width: isGrid ? aligned : widest, height: Math.max(0, top - gapY) };
}
