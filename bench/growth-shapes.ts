import { fileLike } from '@basitax/core/tests/graphs';

export const shapes = ['file', 'chain', 'hub', 'spread', 'nest'] as const;
export type Shape = (typeof shapes)[number];

/** How deep nested graphs go in `nest`. */
const levels = 40;

/** The edges of a shape of so many nodes; those of `nest` lie in nested graphs, forty deep. */
function edgesOf(shape: Shape, count: number): readonly (readonly [number, number])[] {
  if (shape === 'file') {
    const { from, to } = fileLike(1, count);
    return Array.from(from, (one, i) => [one, to[i] ?? one]);
  }
  return Array.from({ length: count - 1 }, (_, i) =>
    shape === 'hub' ? [i, count - 1] : shape === 'spread' ? [0, i + 1] : [i, i + 1],
  );
}

/** A graph without places as GraphML. */
export function graphmlOf(shape: Shape, count: number): string {
  const edges = edgesOf(shape, count);
  const node = (i: number): string => `<node id="n${i}"/>`;
  const edge = ([a, b]: readonly [number, number]): string => `<edge source="n${a}" target="n${b}"/>`;
  const whole = (body: string): string =>
    `<graphml xmlns="http://graphml.graphdrawing.org/xmlns"><graph edgedefault="directed">${body}</graph></graphml>`;
  if (shape !== 'nest')
    return whole(Array.from({ length: count }, (_, i) => node(i)).join('') + edges.map(edge).join(''));
  const each = Math.floor(count / levels);
  let inside = '';
  for (let level = levels - 1; level >= 0; level--) {
    const first = level * each;
    const body =
      Array.from({ length: each }, (_, i) => node(first + i)).join('') +
      edges
        .slice(first, first + each - 1)
        .map(edge)
        .join('');
    inside =
      level === levels - 1
        ? body
        : `${body}<node id="g${level}"><graph edgedefault="directed">${inside}</graph></node>`;
  }
  return whole(inside);
}
