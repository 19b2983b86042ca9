import type { ReactNode } from 'react';
import { CartesianGrid, Line, LineChart, ResponsiveContainer, Tooltip, XAxis, YAxis } from 'recharts';

const text = { fill: 'var(--soft)', fontSize: 11 };

/** A number over the times at which a report was kept. */
export default function TotalsChart({
  title,
  points,
}: {
  title: string;
  points: readonly { readonly when: string; readonly value: number }[];
}): ReactNode {
  return (
    <figure aria-label={title}>
      <ResponsiveContainer width="100%" height={180}>
        <LineChart data={[...points]} margin={{ top: 8, right: 16, bottom: 0, left: 0 }} accessibilityLayer>
          <CartesianGrid stroke="var(--line)" vertical={false} />
          <XAxis dataKey="when" tick={text} tickLine={false} axisLine={{ stroke: 'var(--line)' }} />
          <YAxis tick={text} tickLine={false} axisLine={false} width={60} domain={['auto', 'auto']} />
          <Tooltip
            contentStyle={{
              background: 'var(--panel)',
              border: '1px solid var(--edge)',
              borderRadius: 4,
              fontSize: 12,
            }}
            formatter={(amount) => [Number(amount).toLocaleString('en', { maximumFractionDigits: 2 }), title]}
          />
          <Line dataKey="value" stroke="var(--accent)" strokeWidth={2} dot={{ r: 3 }} isAnimationActive={false} />
        </LineChart>
      </ResponsiveContainer>
    </figure>
  );
}
