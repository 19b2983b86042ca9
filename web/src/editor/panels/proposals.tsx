import { type ProposalName, type Proposed, proposals } from '@basitax/core/inspect/proposals';
import type { Sketch } from '@basitax/core/inspect/sketch';
import { sketchColors, type Theme } from '@basitax/core/inspect/sketch-colors';
import { type ReactNode, useState } from 'react';
import { useTheme } from '../../theme.ts';
import { plannedSeed } from '../actions.ts';
import { useTask } from '../inspect/use-task.ts';
import { useEditor } from '../store.ts';

const names = Object.keys(proposals) as ProposalName[];

/**
 * Ways to arrange, side by side: each in small with what it comes to. A click takes its options; the dials below go on
 * from there.
 */
export function Proposals({
  options,
  items,
  onTake,
}: {
  options: Readonly<Record<string, unknown>>;
  items: readonly string[];
  onTake: (options: Record<string, unknown>) => void;
}): ReactNode {
  return (
    <fieldset aria-label="Proposals" className="flex flex-wrap gap-2">
      {names.map((name) => (
        <Card key={name} name={name} items={items} now={options} onTake={onTake} />
      ))}
    </fieldset>
  );
}

/** The options that proposals differ in, where nothing is said of them. */
const usual = { keep: 0.3, quality: 'quick', layout: 'page' };

function Card({
  name,
  items,
  now,
  onTake,
}: {
  name: ProposalName;
  items: readonly string[];
  now: Readonly<Record<string, unknown>>;
  onTake: (options: Record<string, unknown>) => void;
}): ReactNode {
  const graph = useEditor((state) => state.graph);
  // the window as it was when the panel opened: the panel's own height must not ask for new answers
  const [size] = useState(() => {
    const { width, height } = useEditor.getState().window;
    return { width: Math.max(1, Math.round(width)), height: Math.max(1, Math.round(height)) };
  });
  const { answer, problem } = useTask('proposal', {
    which: name,
    selection: { graph, items },
    seed: plannedSeed,
    window: size,
  });
  const { theme } = useTheme();
  const taken: Record<string, unknown> = { ...usual, ...(answer?.options ?? proposals[name].options) };
  // where the page has the fewest already, it is chosen as the page
  const isPage = name !== 'page' && Object.entries(usual).every(([key, value]) => taken[key] === value);
  const isChosen = !isPage && Object.entries(taken).every(([key, value]) => now[key] === value);
  return (
    <button
      type="button"
      aria-pressed={isChosen}
      title={proposals[name].about}
      onClick={() => onTake(taken)}
      className={`flex w-80 items-center gap-2 rounded-sm border-2 bg-ticket px-2 py-1 text-left hover:border-accent ${isChosen ? 'border-accent' : 'border-line'}`}
    >
      <span className="grid h-14 w-28 shrink-0 place-items-center bg-ground">
        {answer ? (
          <Small sketch={answer.sketch} theme={theme} />
        ) : (
          <span className="text-xs text-soft">{problem ? '–' : 'Working …'}</span>
        )}
      </span>
      <span className="flex min-w-0 flex-col text-xs text-soft tabular-nums">
        <span className="text-sm font-bold text-ink">{proposals[name].title}</span>
        {answer && isPage ? (
          <span>The same as the page</span>
        ) : answer ? (
          said(answer).map((line) => <span key={line}>{line}</span>)
        ) : (
          <span>{problem ?? proposals[name].about}</span>
        )}
      </span>
    </button>
  );
}

const said = ({ score, crossings, zoom, moved }: Proposed): [string, string] => [
  `Score ${score.toFixed(0)}, ${crossings.toLocaleString('en')} ${crossings === 1 ? 'crossing' : 'crossings'}`,
  `Zoom ${(zoom * 100).toFixed(zoom < 0.1 ? 1 : 0)} %, moves ${moved.toLocaleString('en')} px`,
];

function Small({ sketch, theme }: { sketch: Sketch; theme: Theme }): ReactNode {
  const colors = sketchColors[theme];
  const rows = (flat: readonly number[], step: number): number[][] =>
    Array.from({ length: flat.length / step }, (_, i) => flat.slice(i * step, (i + 1) * step));
  return (
    <svg viewBox={`0 0 ${sketch.width} ${sketch.height}`} className="h-full w-full" aria-hidden="true">
      {rows(sketch.frames, 4).map(([x, y, width, height]) => (
        <rect
          key={`${x} ${y} ${width} ${height}`}
          x={x}
          y={y}
          width={width}
          height={height}
          fill={colors.frame}
          stroke={colors.frameEdge}
          strokeWidth={0.6}
        />
      ))}
      <path
        d={rows(sketch.wires, 4)
          .map(([x1, y1, x2, y2]) => `M${x1} ${y1}L${x2} ${y2}`)
          .join('')}
        fill="none"
        stroke={colors.wire}
        strokeWidth={0.3}
      />
      {/* one path for each hue: a large graph has thousands of nodes */}
      {colors.hues.map((hue, h) => (
        <path
          key={hue}
          fill={hue}
          d={rows(sketch.nodes, 5)
            .filter((row) => (row[4] ?? 0) === h)
            .map(([x, y, width, height]) => `M${x} ${y}h${width}v${height}h-${width}z`)
            .join('')}
        />
      ))}
    </svg>
  );
}
