/**
 * Packs blocks into shelves towards a wanted proportion of width to height: the largest block first keeps the top-left
 * corner, the rest follow in the order given. Places are top-left corners in pixels. O(n log n).
 */
export function packShelves(
  blocks: readonly { width: number; height: number }[],
  gap: number,
  proportion = 1.6,
): { x: number; y: number }[] {
  const area = blocks.reduce((sum, block) => sum + (block.width + gap) * (block.height + gap), 0);
  const widest = blocks.reduce((most, block) => Math.max(most, block.width), 0);
  const shelfWidth = Math.max(widest, Math.sqrt(area * proportion));
  const places: { x: number; y: number }[] = [];
  let [x, y, shelf] = [0, 0, 0];
  for (const block of blocks) {
    if (x > 0 && x + block.width > shelfWidth) {
      [x, y, shelf] = [0, y + shelf + gap, 0];
    }
    places.push({ x, y });
    x += block.width + gap;
    shelf = Math.max(shelf, block.height);
  }
  return places;
}
