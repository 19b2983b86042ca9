import { useInfiniteQuery } from '@tanstack/react-query';
import { format } from 'date-fns';
import { type ReactNode, useDeferredValue, useState } from 'react';
import { teamApi } from '../api/team.ts';
import { Button, Notice, SearchInput } from '../ui/controls.tsx';

/** The record of what was done, for leads: the latest first. */
export function AuditList(): ReactNode {
  const [text, setText] = useState('');
  const [person, setPerson] = useState('');
  const asked = useDeferredValue({ text: text.trim(), person: person.trim() });
  const record = useInfiniteQuery({
    queryKey: ['audit', asked.text, asked.person],
    queryFn: ({ pageParam }) => teamApi.audit({ ...asked, ...(pageParam !== undefined && { before: pageParam }) }),
    initialPageParam: undefined as number | undefined,
    getNextPageParam: (last) => (last.more ? last.records.at(-1)?.id : undefined),
    staleTime: 0,
    placeholderData: (last) => last,
  });
  const rows = record.data?.pages.flatMap((page) => page.records) ?? [];
  return (
    <section aria-label="Record" className="flex flex-col gap-3">
      <div className="flex items-center gap-3">
        <h2 className="text-base font-bold">Record of what was done</h2>
        <SearchInput
          label="Find in the record"
          placeholder="What, or to what"
          className="ml-auto w-56"
          value={text}
          onText={setText}
        />
        <SearchInput label="By whom" placeholder="By, full name" className="w-48" value={person} onText={setPerson} />
      </div>
      {record.isPending ? (
        <Notice title="Loading the record …" />
      ) : record.isError ? (
        <Notice title={record.error.message} alert />
      ) : rows.length === 0 ? (
        <p className="text-sm text-soft">No entries match.</p>
      ) : (
        <table className="w-full text-left text-sm">
          <thead className="text-xs text-soft">
            <tr>
              <th className="w-32 py-1 font-normal">When</th>
              <th className="w-40 font-normal">Who</th>
              <th className="font-normal">What</th>
              <th className="font-normal">To what</th>
              <th className="w-32 font-normal">From</th>
            </tr>
          </thead>
          <tbody>
            {rows.map((row) => (
              <tr key={row.id} className="border-t border-line align-top">
                <td className="py-1 pr-4 whitespace-nowrap text-soft tabular-nums">
                  {format(new Date(row.at), 'd MMM, HH:mm:ss')}
                </td>
                <td className="py-1 pr-4">
                  {row.person || 'nobody known'}
                  {row.byToken && <span className="text-xs text-soft"> by token</span>}
                </td>
                <td className="py-1 pr-4">{row.act}</td>
                <td className="py-1 pr-4 break-words">
                  {row.target}
                  {row.detail !== '' && <span className="text-soft"> {row.detail}</span>}
                </td>
                <td className="py-1 font-mono text-xs leading-5 text-soft">{row.address}</td>
              </tr>
            ))}
          </tbody>
        </table>
      )}
      {record.hasNextPage && (
        <Button className="self-center" onClick={() => void record.fetchNextPage()}>
          {record.isFetchingNextPage ? 'Loading …' : 'Older ones'}
        </Button>
      )}
    </section>
  );
}
