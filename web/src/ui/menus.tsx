import { ContextMenu, DropdownMenu } from 'radix-ui';
import { Fragment, type ReactNode } from 'react';
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
export type MenuGroups = readonly (readonly MenuEntry[])[];

/** Menus that drop from a button, and those that open where one presses, are made of the same parts. */
type Parts = typeof DropdownMenu | typeof ContextMenu;

/** The entries of a menu in groups: what cannot be done now is dim and says why. */
export function MenuEntries({
  of: { Item, Separator } = DropdownMenu,
  groups,
}: {
  of?: Parts;
  groups: MenuGroups;
}): ReactNode {
  return groups
    .filter((group) => group.length > 0)
    .map((group, i) => (
      <Fragment key={group[0]?.id}>
        {i > 0 && <Separator className="my-1 h-px bg-line" />}
        {group.map(({ id, title, about, key, dim, run }) => (
          <Item
            key={id}
            className={itemLook}
            disabled={dim !== undefined}
            title={dim ?? about}
            // once the menu has closed and the keyboard is free
            onSelect={() => void setTimeout(run, 0)}
          >
            <span className="min-w-0 flex-1 truncate">{title}</span>
            {key && <kbd className="pl-3 font-mono text-xs whitespace-nowrap text-soft">{key}</kbd>}
          </Item>
        ))}
      </Fragment>
    ));
}

/** What a menu is of, as its first line. */
export const headingLook = 'truncate px-2 py-1 text-xs font-bold text-soft';

/** A row of a list with a menu of its own: by right click, long press, and the menu key. */
export function RowMenu({
  heading,
  groups,
  children,
}: {
  /** What the menu is of. */
  heading: string;
  groups: MenuGroups;
  /** One element, which is the row. */
  children: ReactNode;
}): ReactNode {
  return (
    <ContextMenu.Root modal={false}>
      <ContextMenu.Trigger asChild>{children}</ContextMenu.Trigger>
      <ContextMenu.Portal>
        <ContextMenu.Content className={`${menuLook} max-w-80`} collisionPadding={8}>
          <ContextMenu.Label className={headingLook}>{heading}</ContextMenu.Label>
          <MenuEntries of={ContextMenu} groups={groups} />
        </ContextMenu.Content>
      </ContextMenu.Portal>
    </ContextMenu.Root>
  );
}
