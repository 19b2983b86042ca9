import type { Health } from '@basitax/api/health';
import { format, parseISO } from 'date-fns';
import type { ReactNode } from 'react';
import { Area, AreaChart, CartesianGrid, Line, LineChart, ResponsiveContainer, Tooltip, XAxis, YAxis } from 'recharts';

const text = { fill: 'var(--soft)', fontSize: 11 };
const onDay = (day: string): string => format(parseISO(day), 'd MMM');
const box = {
  background: 'var(--panel)',
  border: '1px solid var(--edge)',
  borderRadius: 4,
  fontSize: 12,
  padding: '4px 8px',
};
const axes = { tick: text, tickLine: false } as const;

type Days = Health['days'];

/** Readability over the days, 0 to 100. */
export function ScoreChart({ days, title }: { days: Days; title: string }): ReactNode {
  return (
    <figure className="min-w-0" aria-label={title}>
      <figcaption className="pb-1 text-sm font-bold">{title}</figcaption>
      <ResponsiveContainer width="100%" height={190}>
        <LineChart data={[...days]} margin={{ top: 4, right: 8, bottom: 0, left: -18 }} accessibilityLayer>
          <CartesianGrid stroke="var(--line)" vertical={false} />
          <XAxis dataKey="day" {...axes} axisLine={{ stroke: 'var(--line)' }} tickFormatter={onDay} minTickGap={36} />
          <YAxis domain={[0, 100]} {...axes} axisLine={false} tickCount={5} />
          <Tooltip
            contentStyle={box}
            labelFormatter={(day) => onDay(String(day))}
            formatter={(value) => [String(value), 'readability']}
          />
          <Line
            type="stepAfter"
            dataKey="score"
            stroke="var(--accent)"
            strokeWidth={2}
            dot={false}
            isAnimationActive={false}
            connectNulls
          />
        </LineChart>
      </ResponsiveContainer>
    </figure>
  );
}

const layers = [
  { key: 'error', title: 'errors', fill: 'var(--warn)', opacity: 0.95 },
  { key: 'warning', title: 'warnings', fill: 'var(--warn)', opacity: 0.45 },
  { key: 'info', title: 'hints', fill: 'var(--edge)', opacity: 0.3 },
] as const;

/** Findings over the days, the gravest below. The table beside says the same in numbers. */
export function FindingsChart({ days, title }: { days: Days; title: string }): ReactNode {
  return (
    <figure className="min-w-0" aria-label={title}>
      <figcaption className="flex items-center gap-3 pb-1 text-sm">
        <b>{title}</b>
        {layers.map((layer) => (
          <span key={layer.key} className="flex items-center gap-1 text-xs text-soft">
            <span
              className="inline-block size-3 border border-edge"
              style={{ background: layer.fill, opacity: layer.opacity }}
              aria-hidden="true"
            />
            {layer.title}
          </span>
        ))}
      </figcaption>
      <ResponsiveContainer width="100%" height={190}>
        <AreaChart data={[...days]} margin={{ top: 4, right: 8, bottom: 0, left: -10 }} accessibilityLayer>
          <CartesianGrid stroke="var(--line)" vertical={false} />
          <XAxis dataKey="day" {...axes} axisLine={{ stroke: 'var(--line)' }} tickFormatter={onDay} minTickGap={36} />
          <YAxis {...axes} axisLine={false} tickCount={5} allowDecimals={false} />
          <Tooltip contentStyle={box} labelFormatter={(day) => onDay(String(day))} />
          {layers.map((layer) => (
            <Area
              key={layer.key}
              type="stepAfter"
              dataKey={layer.key}
              name={layer.title}
              stackId="all"
              stroke="none"
              fill={layer.fill}
              fillOpacity={layer.opacity}
              isAnimationActive={false}
            />
          ))}
        </AreaChart>
      </ResponsiveContainer>
    </figure>
  );
}
