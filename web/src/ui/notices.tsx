import { plural } from '@basitax/core/words';
import { useQuery, useQueryClient } from '@tanstack/react-query';
import { formatDistanceToNow } from 'date-fns';
import { Bell } from 'lucide-react';
import { Popover } from 'radix-ui';
import { type ReactNode, useEffect, useState } from 'react';
import { Link, useLocation } from 'react-router';
import { api } from '../api/client.ts';
import { usePerson } from '../api/person.ts';
import { Button } from './controls.tsx';

/** How often is asked whether there is something new, in milliseconds. */
const pace = 30_000;

/** What was done while one was away: batch runs that are planned or applied, schedules that could not start. */
export function Notices(): ReactNode {
  const person = usePerson().data;
  const queries = useQueryClient();
  const [open, setOpen] = useState(false);
  const notices = useQuery({
    queryKey: ['notices'],
    queryFn: api.notices,
    refetchInterval: pace,
    enabled: Boolean(person),
  });
  const unseen = notices.data?.unseen ?? 0;
  const { pathname } = useLocation();
  const isHere = notices.data?.notices.some((one) => one.link === pathname && !one.seen) === true;
  // whoever looks at the thing itself need not be told of it
  useEffect(() => {
    if (isHere) void api.seeNotices(pathname).then(() => queries.invalidateQueries({ queryKey: ['notices'] }));
  }, [isHere, pathname, queries]);
  const close = (): void => {
    setOpen(false);
    if (unseen > 0) void api.seeNotices().then(() => queries.invalidateQueries({ queryKey: ['notices'] }));
  };
  if (!person) return null;
  return (
    <Popover.Root open={open} onOpenChange={(next) => (next ? setOpen(true) : close())}>
      <Popover.Trigger asChild>
        <Button look="quiet" square className="relative" aria-label={unseen > 0 ? `Notices, ${unseen} new` : 'Notices'}>
          <Bell size={16} />
          {unseen > 0 && (
            <span className="absolute -top-0.5 -right-0.5 min-w-4 rounded-full bg-accent px-1 text-[0.625rem] leading-4 font-bold text-on-accent">
              {unseen > 99 ? '99+' : unseen}
            </span>
          )}
        </Button>
      </Popover.Trigger>
      <Popover.Portal>
        <Popover.Content
          align="end"
          sideOffset={4}
          aria-label="Notices"
          className="z-50 flex max-h-[70vh] w-96 flex-col overflow-auto rounded border border-edge bg-panel shadow-lg"
        >
          {notices.isError ? (
            <p role="alert" className="p-3 text-sm text-warn">
              {notices.error.message}
            </p>
          ) : notices.data?.notices.length === 0 ? (
            <p className="p-3 text-sm text-soft">
              No notices yet. You are told here when your batch runs are planned or applied.
            </p>
          ) : (
            <ul>
              {notices.data?.notices.map((one) => (
                <li key={one.id} className="border-b border-line last:border-0">
                  <Link
                    to={one.link}
                    onClick={close}
                    className={`flex flex-col px-3 py-2 text-sm hover:bg-accent-wash ${one.seen ? '' : 'font-bold'}`}
                  >
                    {one.text}
                    <span className="text-xs font-normal text-soft">
                      {formatDistanceToNow(new Date(one.at), { addSuffix: true })}
                      {!one.seen && ' · new'}
                    </span>
                  </Link>
                </li>
              ))}
            </ul>
          )}
          {unseen > 0 && <p className="px-3 py-1 text-xs text-soft">{plural(unseen, 'notice')} not seen before.</p>}
        </Popover.Content>
      </Popover.Portal>
    </Popover.Root>
  );
}
