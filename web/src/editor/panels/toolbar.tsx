import { operationById } from '@basitax/core/operations';
import {
  AlignCenterHorizontal,
  AlignCenterVertical,
  AlignEndHorizontal,
  AlignEndVertical,
  AlignHorizontalSpaceBetween,
  AlignStartHorizontal,
  AlignStartVertical,
  AlignVerticalSpaceBetween,
  CopyPlus,
  type LucideIcon,
  Network,
  Pin,
  PinOff,
  Redo2,
  Scan,
  Search,
  Trash2,
  Undo2,
} from 'lucide-react';
import { Toolbar as RadixToolbar } from 'radix-ui';
import { type ReactNode, useEffect, useState } from 'react';
import { Button } from '../../ui/controls.tsx';
import { hint, perform, unhint, whyNot } from '../actions.ts';
import { lookAt, redo, undo, useEditing, useEditor, zoomTo } from '../store.ts';
import { keyOf } from './shortcuts.ts';

/** Fixed slots: nothing moves about, what cannot be done now is dim and says why. */
const slots: readonly (readonly { id: string; icon: LucideIcon; word?: string }[])[] = [
  [{ id: 'arrange', icon: Network, word: 'Arrange' }],
  [
    { id: 'align-left', icon: AlignStartVertical },
    { id: 'align-centre', icon: AlignCenterVertical },
    { id: 'align-right', icon: AlignEndVertical },
    { id: 'align-top', icon: AlignStartHorizontal },
    { id: 'align-middle', icon: AlignCenterHorizontal },
    { id: 'align-bottom', icon: AlignEndHorizontal },
  ],
  [
    { id: 'distribute-x', icon: AlignHorizontalSpaceBetween },
    { id: 'distribute-y', icon: AlignVerticalSpaceBetween },
  ],
  [
    { id: 'pin', icon: Pin },
    { id: 'unpin', icon: PinOff },
  ],
  [
    { id: 'duplicate', icon: CopyPlus },
    { id: 'delete', icon: Trash2 },
  ],
];

const Gap = (): ReactNode => <RadixToolbar.Separator className="mx-1 h-5 w-px bg-line" />;

function Slot({
  title,
  keys,
  dim,
  icon: Icon,
  word,
  onClick,
  onPoint,
}: {
  title: string;
  keys?: string | undefined;
  dim: string | undefined;
  icon: LucideIcon;
  word?: string | undefined;
  onClick: () => void;
  /** Shows what it would do, while it is pointed at or has the focus. */
  onPoint?: () => void;
}): ReactNode {
  return (
    <RadixToolbar.Button asChild>
      <Button
        look="quiet"
        aria-label={title}
        title={keys ? `${title} (${keys})` : title}
        dim={dim}
        onClick={onClick}
        square={word === undefined}
        {...(onPoint && { onPointerEnter: onPoint, onFocus: onPoint, onPointerLeave: unhint, onBlur: unhint })}
      >
        <Icon size={17} />
        {word}
      </Button>
    </RadixToolbar.Button>
  );
}

export function Toolbar({ onPalette }: { onPalette: () => void }): ReactNode {
  const state = useEditing();
  const busy = state.preview ? 'Apply or drop the preview first.' : undefined;
  const count = state.selection.length;
  return (
    <RadixToolbar.Root aria-label="Acts on the selection" className="flex h-11 shrink-0 items-center gap-0.5 overflow-hidden border-t border-line bg-panel px-2">
      <Slot title="Undo" keys={keyOf('undo')} icon={Undo2} dim={busy ?? (state.past.length === 0 ? 'Nothing was done yet.' : undefined)} onClick={undo} />
      <Slot title="Redo" keys={keyOf('redo')} icon={Redo2} dim={busy ?? (state.future.length === 0 ? 'Nothing was undone.' : undefined)} onClick={redo} />
      {slots.map((group) => (
        <span key={group[0]!.id} className="flex items-center gap-0.5">
          <Gap />
          {group.map(({ id, icon, word }) => {
            const one = operationById(id);
            return (
              <Slot key={id} title={one.title} keys={keyOf(id)} icon={icon} word={word} dim={whyNot(one, state)} onClick={() => void perform(id)} onPoint={() => void hint(id)} />
            );
          })}
        </span>
      ))}
      <Gap />
      <Slot title="All commands" keys={keyOf('palette')} icon={Search} dim={undefined} onClick={onPalette} />
      <span className="ml-auto flex items-center gap-2 pl-2 text-xs whitespace-nowrap text-soft">
        <span className="hidden min-w-20 text-right lg:inline">{count === 0 ? 'Nothing selected' : `${count.toLocaleString('en')} selected`}</span>
        <ZoomField />
        <Slot title="Show everything" keys="F" icon={Scan} dim={undefined} onClick={() => lookAt('all')} />
      </span>
    </RadixToolbar.Root>
  );
}

/** The zoom in per cent; a number typed there is taken with Enter. */
function ZoomField(): ReactNode {
  const zoom = useEditor((state) => Math.round(state.view.zoom * 100));
  const [text, setText] = useState(String(zoom));
  useEffect(() => setText(String(zoom)), [zoom]);
  const take = (): void => {
    const value = Number(text.replace('%', ''));
    if (value >= 2 && value <= 400) zoomTo(value / 100);
    else setText(String(zoom));
  };
  return (
    <label className="flex items-center gap-0.5">
      <span className="sr-only">Zoom in per cent</span>
      <input
        className="h-7 w-10 rounded-sm border border-line bg-ticket px-1 text-right font-mono text-xs text-ink"
        inputMode="numeric"
        value={text}
        onChange={(event) => setText(event.target.value)}
        onBlur={take}
        onKeyDown={(event) => event.key === 'Enter' && take()}
      />
      %
    </label>
  );
}
