import type { FrameTree } from './graph.ts';

/** First and last layer of each frame; a frame without nodes has none. */
export function spans(frames: FrameTree, rank: ArrayLike<number>): { low: Int32Array; high: Int32Array } {
  const low = new Int32Array(frames.parent.length).fill(0x7fffffff);
  const high = new Int32Array(frames.parent.length).fill(-1);
  frames.of.forEach((frame, v) => {
    for (let f = frame; f !== -1; f = frames.parent[f]!) {
      low[f] = Math.min(low[f]!, rank[v]!);
      high[f] = Math.max(high[f]!, rank[v]!);
    }
  });
  return { low, high };
}
