import type { ReactNode } from 'react';
import { Bar, BarChart, CartesianGrid, ResponsiveContainer, Tooltip, XAxis, YAxis } from 'recharts';

const text = { fill: 'var(--soft)', fontSize: 11 };
/** Bars that can be told apart. */
const most = 25;

/** One column of a table as bars, in the order of the rows. The table below says the same in numbers. */
export default function ReportChart({
  title,
  rows,
  label,
  value,
}: {
  title: string;
  rows: readonly Readonly<Record<string, unknown>>[];
  label: string;
  value: string;
}): ReactNode {
  const data = rows.slice(0, most).map((row) => ({ name: String(row[label] ?? ''), value: Number(row[value] ?? 0) }));
  return (
    <figure aria-label={title}>
      <ResponsiveContainer width="100%" height={Math.max(90, 30 + data.length * 20)}>
        <BarChart data={data} layout="vertical" margin={{ top: 0, right: 16, bottom: 0, left: 0 }} accessibilityLayer>
          <CartesianGrid stroke="var(--line)" horizontal={false} />
          <XAxis type="number" tick={text} tickLine={false} axisLine={{ stroke: 'var(--line)' }} />
          <YAxis
            type="category"
            dataKey="name"
            width={150}
            tick={text}
            tickLine={false}
            axisLine={false}
            interval={0}
          />
          <Tooltip
            cursor={{ fill: 'var(--accent-wash)' }}
            contentStyle={{
              background: 'var(--panel)',
              border: '1px solid var(--edge)',
              borderRadius: 4,
              fontSize: 12,
            }}
            formatter={(amount) => [String(amount), value]}
          />
          <Bar dataKey="value" fill="var(--accent)" isAnimationActive={false} barSize={12} />
        </BarChart>
      </ResponsiveContainer>
      {rows.length > most && (
        <figcaption className="text-xs text-soft">The first {most} rows; the table has all of them.</figcaption>
      )}
    </figure>
  );
}
