import { ContextMenu } from 'radix-ui';
import type { ReactNode } from 'react';
import { itemLook, menuLook } from './top-line.tsx';

/** An entry of a menu. */
export interface MenuEntry {
  readonly id: string;
  readonly title: string;
  /** What it does, in a sentence. */
  readonly about?: string;
  readonly key?: string | undefined;
  /** Why it cannot be done now. */
  readonly dim?: string | undefined;
  run(): void;
}

/** What an entry shows: what cannot be done now is dim and says why. */
export const EntryText = ({ title, entryKey }: { title: string; entryKey: string | undefined }): ReactNode => (
  <>
    <span className="min-w-0 flex-1 truncate">{title}</span>
    {entryKey && <kbd className="pl-3 font-mono text-xs whitespace-nowrap text-soft">{entryKey}</kbd>}
  </>
);

/** A row of a list with a menu of its own: by right click, long press, and the menu key. */
export function RowMenu({
  heading,
  groups,
  children,
}: {
  /** What the menu is of. */
  heading: string;
  groups: readonly (readonly MenuEntry[])[];
  /** One element, which is the row. */
  children: ReactNode;
}): ReactNode {
  return (
    <ContextMenu.Root modal={false}>
      <ContextMenu.Trigger asChild>{children}</ContextMenu.Trigger>
      <ContextMenu.Portal>
        <ContextMenu.Content className={`${menuLook} max-w-80`} collisionPadding={8}>
          <ContextMenu.Label className="truncate px-2 py-1 text-xs font-bold text-soft">{heading}</ContextMenu.Label>
          {groups
            .filter((group) => group.length > 0)
            .map((group, i) => (
              <ContextMenu.Group key={group[0]?.id}>
                {i > 0 && <ContextMenu.Separator className="my-1 h-px bg-line" />}
                {group.map(({ id, title, about, key, dim, run }) => (
                  <ContextMenu.Item
                    key={id}
                    className={itemLook}
                    disabled={dim !== undefined}
                    title={dim ?? about}
                    // once the menu has closed and the keyboard is free
                    onSelect={() => void setTimeout(run, 0)}
                  >
                    <EntryText title={title} entryKey={key} />
                  </ContextMenu.Item>
                ))}
              </ContextMenu.Group>
            ))}
        </ContextMenu.Content>
      </ContextMenu.Portal>
    </ContextMenu.Root>
  );
}
