import { operations } from '@basitax/core/operations';
import { Command } from 'cmdk';
import { Dialog as RadixDialog } from 'radix-ui';
import type { ReactNode } from 'react';
import { mustAsk, perform, whyNot } from '../actions.ts';
import { useEditing } from '../store.ts';
import { keyOf } from './shortcuts.ts';

/** Something to do that is no operation on the document. */
export interface Extra {
  readonly id: string;
  readonly title: string;
  readonly keys?: string;
  readonly dim?: string | undefined;
  act(): void;
}

const itemLook =
  'flex items-baseline gap-2 rounded-sm px-2 py-1.5 text-sm cursor-pointer data-[selected=true]:bg-accent-wash data-[disabled=true]:text-soft data-[disabled=true]:cursor-default';

/** Everything there is to do, by name: all operations of the registry, and what the application adds. */
export function Palette({ open, onClose, extras, ask }: { open: boolean; onClose: () => void; extras: readonly Extra[]; ask: (operation: string) => void }): ReactNode {
  const state = useEditing();
  const run = (act: () => void) => () => {
    onClose();
    // after the dialog has given the focus back
    setTimeout(act, 0);
  };
  return (
    <RadixDialog.Root open={open} onOpenChange={(next) => !next && onClose()}>
      <RadixDialog.Portal>
        <RadixDialog.Overlay className="fixed inset-0 z-40 bg-black/25" />
        <RadixDialog.Content
          aria-describedby={undefined}
          className="fixed top-[10vh] left-1/2 z-40 w-[92vw] max-w-xl -translate-x-1/2 overflow-hidden rounded border border-edge bg-panel shadow-lg"
        >
          <RadixDialog.Title className="sr-only">All commands</RadixDialog.Title>
          <Command label="All commands" loop>
            <Command.Input autoFocus placeholder="What do you want to do?" className="h-11 w-full border-b border-line bg-transparent px-3 outline-none" />
            <Command.List className="max-h-[56vh] overflow-auto p-1.5">
              <Command.Empty className="p-4 text-center text-sm text-soft">Nothing is called so.</Command.Empty>
              {operations.map((one) => {
                const reason = whyNot(one, state);
                return (
                  <Command.Item
                    key={one.id}
                    value={one.title}
                    keywords={[one.id, one.area]}
                    disabled={reason !== undefined}
                    onSelect={run(() => (mustAsk(one) || one.id === 'move' || one.id === 'label' ? ask(one.id) : void perform(one.id)))}
                    className={itemLook}
                  >
                    <span className="whitespace-nowrap">{one.title}</span>
                    <span className="min-w-0 flex-1 truncate text-xs text-soft">{reason ?? one.about}</span>
                    <kbd className="text-xs text-soft">{keyOf(one.id)}</kbd>
                  </Command.Item>
                );
              })}
              {extras.map((extra) => (
                <Command.Item key={extra.id} value={extra.title} keywords={[extra.id]} disabled={extra.dim !== undefined} onSelect={run(extra.act)} className={itemLook}>
                  <span className="whitespace-nowrap">{extra.title}</span>
                  <span className="min-w-0 flex-1 truncate text-xs text-soft">{extra.dim}</span>
                  <kbd className="text-xs text-soft">{extra.keys}</kbd>
                </Command.Item>
              ))}
            </Command.List>
          </Command>
        </RadixDialog.Content>
      </RadixDialog.Portal>
    </RadixDialog.Root>
  );
}
