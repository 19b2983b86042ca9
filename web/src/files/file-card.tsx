import type { FileInfo } from '@basitax/api/files';
import { plural } from '@basitax/core/words';
import { formatDistanceToNow } from 'date-fns';
import { CircleAlert, EllipsisVertical, TriangleAlert } from 'lucide-react';
import { DropdownMenu } from 'radix-ui';
import type { ReactNode } from 'react';
import { Link, useNavigate } from 'react-router';
import { api } from '../api/client.ts';
import { useTheme } from '../theme.ts';
import { Button } from '../ui/controls.tsx';
import { copyText } from '../ui/copy.ts';
import { MenuEntries, type MenuGroups, RowMenu } from '../ui/menus.tsx';
import { menuLook } from '../ui/top-line.tsx';

/** What can be done with files from the list. */
export const acts = {
  duplicate: { title: 'Duplicate …', role: 'editor' },
  move: { title: 'Move …', role: 'editor' },
  tag: { title: 'Tags …', role: 'editor' },
  trash: { title: 'Put into the trash', role: 'editor' },
} as const;
export type Act = keyof typeof acts;

/** A file in the list: how it looks, how it stands, and what can be done with it. */
export function FileCard({
  file,
  where,
  selected,
  onSelect,
  onAct,
  dim,
}: {
  file: FileInfo;
  /** Where it lies, in words; undefined where that is plain. */
  where: string | undefined;
  selected: boolean;
  onSelect: (on: boolean) => void;
  onAct: (act: Act) => void;
  /** Why nothing can be done with it by this person. */
  dim: string | undefined;
}): ReactNode {
  const theme = useTheme((state) => state.theme);
  const { measures, findings } = file.head;
  const score = measures.score;
  const navigate = useNavigate();
  const address = `/files/${file.id}`;
  const menu: MenuGroups = [
    [
      { id: 'open', title: 'Open', run: () => navigate(address) },
      { id: 'tab', title: 'Open in a new tab', run: () => void window.open(address, '_blank', 'noopener') },
      {
        id: 'address',
        title: 'Copy the address',
        run: () => copyText(`${location.origin}${address}`, 'The address of the file is copied.'),
      },
    ],
    [
      {
        id: 'select',
        title: selected ? 'Take out of the selection' : 'Add to the selection',
        run: () => onSelect(!selected),
      },
      ...(Object.keys(acts) as Act[]).map((act) => ({ id: act, title: acts[act].title, dim, run: () => onAct(act) })),
    ],
  ];
  return (
    <RowMenu heading={file.title} groups={menu}>
      <li
        className={`relative flex flex-col overflow-hidden rounded border bg-panel [contain-intrinsic-size:268px_330px] [content-visibility:auto] ${selected ? 'border-accent' : 'border-line hover:border-edge'}`}
      >
        <Link to={address} className="group flex flex-1 flex-col" aria-label={`${file.title}, ${measures.nodes} nodes`}>
          <img
            src={api.thumbnailAddress(file.id, file.head.number, theme)}
            alt=""
            loading="lazy"
            className="aspect-video w-full border-b border-line bg-ground"
          />
          <div className="flex flex-col gap-1 p-3 pb-2">
            <span className="truncate pr-7 font-bold group-hover:underline">{file.title}</span>
            {where !== undefined && <span className="truncate text-xs text-soft">{where}</span>}
            <span className="flex flex-wrap items-center gap-x-2 text-xs">
              {score !== undefined ? (
                <span className={score < 50 ? 'text-warn' : ''}>
                  Readability <b className="tabular-nums">{Math.round(score)}</b>
                </span>
              ) : (
                <span className="text-soft">Being measured …</span>
              )}
              {findings && findings.error > 0 && (
                <span className="flex items-center gap-0.5 text-warn">
                  <CircleAlert size={12} aria-hidden="true" />
                  {plural(findings.error, 'error')}
                </span>
              )}
              {findings && findings.warning > 0 && (
                <span className="flex items-center gap-0.5">
                  <TriangleAlert size={12} aria-hidden="true" />
                  {plural(findings.warning, 'warning')}
                </span>
              )}
              {findings && findings.error + findings.warning === 0 && <span className="text-good">No warnings</span>}
            </span>
            <span className="text-xs text-soft">
              {plural(measures.nodes, 'node')} · {plural(measures.wires, 'wire')}
              {measures.crossings !== undefined && (
                <>
                  {' · '}
                  <span className="whitespace-nowrap">{plural(measures.crossings, 'crossing')}</span>
                </>
              )}
            </span>
            <span className="truncate text-xs text-soft">
              Revision {file.head.number}
              {file.head.name && ` “${file.head.name}”`}, {file.head.author},{' '}
              {formatDistanceToNow(new Date(file.head.createdAt), { addSuffix: true })}
            </span>
          </div>
        </Link>
        {file.tags.length > 0 && (
          <ul aria-label="Tags" className="flex flex-wrap gap-1 px-3 pb-2">
            {file.tags.map((tag) => (
              <li key={tag} className="rounded-sm border border-line px-1 text-xs text-soft">
                {tag}
              </li>
            ))}
          </ul>
        )}
        <label className="absolute top-1.5 left-1.5 flex size-7 items-center justify-center rounded-sm bg-panel/85">
          <span className="sr-only">Select {file.title}</span>
          <input
            type="checkbox"
            className="size-4 accent-accent"
            checked={selected}
            onChange={(event) => onSelect(event.target.checked)}
          />
        </label>
        <DropdownMenu.Root>
          <DropdownMenu.Trigger asChild>
            <Button
              look="quiet"
              square
              className="absolute top-1.5 right-1.5 h-7 w-7 bg-panel/85"
              aria-label={`What can be done with ${file.title}`}
            >
              <EllipsisVertical size={15} />
            </Button>
          </DropdownMenu.Trigger>
          <DropdownMenu.Portal>
            <DropdownMenu.Content className={menuLook} align="end" sideOffset={2}>
              {dim && <DropdownMenu.Label className="px-2 py-1 text-xs text-soft">{dim}</DropdownMenu.Label>}
              <MenuEntries groups={menu} />
            </DropdownMenu.Content>
          </DropdownMenu.Portal>
        </DropdownMenu.Root>
      </li>
    </RowMenu>
  );
}
