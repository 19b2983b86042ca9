import { ellipsis } from '@basitax/core/document/metrics';
import type { ReactNode } from 'react';
import { Bar, BarChart, ResponsiveContainer, XAxis, YAxis } from 'recharts';

const text = { fill: 'var(--soft)', fontSize: 11 };

/** The most costly as bars. The table below says the same in words and numbers. */
export default function CostChart({
  rows,
}: {
  rows: readonly { readonly title: string; readonly ms: number }[];
}): ReactNode {
  return (
    <figure className="h-44 shrink-0" aria-label="The most costly, as bars">
      <ResponsiveContainer width="100%" height="100%">
        <BarChart
          data={[...rows]}
          layout="vertical"
          margin={{ top: 2, right: 8, bottom: 0, left: 0 }}
          barCategoryGap={3}
          accessibilityLayer={false}
        >
          <XAxis
            type="number"
            tick={text}
            tickLine={false}
            axisLine={{ stroke: 'var(--line)' }}
            tickFormatter={(value: number) => (value >= 1000 ? `${value / 1000} s` : `${value} ms`)}
            tickCount={4}
          />
          <YAxis
            type="category"
            dataKey="title"
            width={104}
            tick={text}
            tickLine={false}
            axisLine={false}
            interval={0}
            tickFormatter={(title: string) => ellipsis(title, 'regular', 11, 98)}
          />
          <Bar dataKey="ms" fill="var(--accent)" isAnimationActive={false} maxBarSize={14} radius={[0, 2, 2, 0]} />
        </BarChart>
      </ResponsiveContainer>
    </figure>
  );
}
