import type { Route } from '../route/route.ts';

const arrow = 8;
const round = (value: number): number => Math.round(value * 100) / 100 + 0;

/**
 * The way of a wire as the language's B-spline (https://graphviz.org/docs/attr-types/splineType/): each straight piece as
 * a cubic with its inner points on the third parts; y grows upwards. With an arrow the tip stands apart, and the line
 * ends before it. O(points).
 */
export function splineText(route: Route, hasArrow: boolean): string {
  const points = route.map(({ x, y }) => ({ x, y: -y }));
  const [last, before] = [points.at(-1), points.at(-2)];
  let tip = '';
  if (hasArrow && last && before) {
    tip = `e,${round(last.x)},${round(last.y)} `;
    const length = Math.hypot(last.x - before.x, last.y - before.y);
    const back = Math.min(arrow, length / 2);
    if (length > 0)
      points[points.length - 1] = {
        x: last.x - ((last.x - before.x) / length) * back,
        y: last.y - ((last.y - before.y) / length) * back,
      };
  }
  const text = ({ x, y }: { x: number; y: number }): string => `${round(x)},${round(y)}`;
  const pieces = points.slice(1).map((to, i) => {
    const from = points[i] as { x: number; y: number };
    const at = (share: number) => ({ x: from.x + (to.x - from.x) * share, y: from.y + (to.y - from.y) * share });
    return `${text(at(1 / 3))} ${text(at(2 / 3))} ${text(to)}`;
  });
  return `${tip}${text(points[0] as { x: number; y: number })} ${pieces.join(' ')}`;
}
