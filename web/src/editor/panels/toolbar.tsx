import { must } from '@basitax/core/must';
import type { OperationId } from '@basitax/core/operations';
import {
  BoxSelect,
  Cable,
  Command,
  LassoSelect,
  Lightbulb,
  ListOrdered,
  ListTree,
  type LucideIcon,
  Map as MapIcon,
  Minimize2,
  Plus,
  RadioTower,
  Redo2,
  Scan,
  ScanSearch,
  Spline,
  SquareCode,
  Undo2,
} from 'lucide-react';
import { DropdownMenu, Toolbar as RadixToolbar } from 'radix-ui';
import type { ReactNode } from 'react';
import { Button } from '../../ui/controls.tsx';
import { MenuEntries } from '../../ui/menus.tsx';
import { menuLook } from '../../ui/top-line.tsx';
import { useDraft } from '../../ui/use-draft.ts';
import { hint, unhint } from '../actions.ts';
import { commandById } from '../commands.ts';
import { useHand } from '../hand.ts';
import { inspectCommands } from '../inspect-commands.ts';
import { useLayout } from '../layout.ts';
import { presentation } from '../presentation.ts';
import { keyOf, useKeys } from '../shortcuts/keys-store.ts';
import { useEditing, useEditor, zoomTo } from '../store.ts';

/** An operation of the registry, whose record has its icon, or a command of the application. */
type Slotted =
  | { readonly id: OperationId; readonly icon?: undefined; readonly word?: string }
  | { readonly id: string; readonly icon: LucideIcon; readonly word?: string };

const iconOf = (slot: Slotted): LucideIcon => (slot.icon === undefined ? must(presentation[slot.id].icon) : slot.icon);

/** Fixed slots: nothing moves about, what cannot be done now is dim and says why. */
const slots: readonly (readonly Slotted[])[] = [
  [
    { id: 'undo', icon: Undo2 },
    { id: 'redo', icon: Redo2 },
  ],
  [{ id: 'arrange', word: 'Arrange' }, { id: 'settle' }, { id: 'spacing' }, { id: 'level' }],
  [
    { id: 'align-left' },
    { id: 'align-centre' },
    { id: 'align-right' },
    { id: 'align-top' },
    { id: 'align-middle' },
    { id: 'align-bottom' },
  ],
  [{ id: 'distribute-x' }, { id: 'distribute-y' }],
  [{ id: 'pin' }, { id: 'unpin' }, { id: 'turn-open', icon: Minimize2 }],
  [{ id: 'add', icon: Plus }, { id: 'in-hand', icon: Cable }, { id: 'bypass' }, { id: 'to-links' }],
  [{ id: 'duplicate' }, { id: 'delete' }],
  [
    { id: 'drag-box', icon: BoxSelect },
    { id: 'drag-lasso', icon: LassoSelect },
    { id: 'order', icon: ListOrdered },
  ],
  [
    { id: 'outline', icon: ListTree },
    { id: 'beacons', icon: RadioTower },
    { id: 'advice', icon: Lightbulb },
    { id: 'neighbourhood', icon: Spline },
    { id: 'overview', icon: MapIcon },
  ],
  [
    { id: 'script', icon: SquareCode },
    { id: 'palette', icon: Command },
  ],
];

/** All slots find room at 1280 px. */
const narrow = 'max-w-[30px]';

const Gap = (): ReactNode => <RadixToolbar.Separator className="mx-px h-5 w-px bg-line" />;

/** What is switched on, among the commands that switch something. */
function useSwitched(): Readonly<Record<string, boolean>> {
  const { left, order, drag, overview } = useLayout();
  const surroundings = useEditor((state) => state.surroundings !== undefined);
  const inHand = useHand((state) => state.inHand !== undefined);
  return {
    'drag-box': drag === 'box',
    'drag-lasso': drag === 'lasso',
    'stroke-cut': drag === 'cut',
    'in-hand': inHand,
    order,
    outline: left === 'outline',
    beacons: left === 'beacons',
    advice: left === 'advice',
    script: left === 'script',
    overview: overview === 'on',
    neighbourhood: surroundings,
  };
}

function Slot({
  id,
  icon: Icon,
  word,
  isOn,
}: {
  id: string;
  icon: LucideIcon;
  word?: string | undefined;
  isOn: boolean | undefined;
}): ReactNode {
  const state = useEditing();
  const keys = useKeys();
  const command = must(commandById(id));
  const key = keyOf(id, keys);
  const point = (): void => void hint(id);
  return (
    <RadixToolbar.Button asChild>
      <Button
        look="quiet"
        aria-label={command.title}
        aria-pressed={isOn}
        title={key ? `${command.title} (${key})` : command.title}
        dim={command.dim(state)}
        onClick={command.run}
        square={word === undefined}
        className={`${word === undefined ? narrow : ''} ${isOn ? 'bg-accent-wash' : ''}`}
        {...(command.area.id === 'arrange' && {
          onPointerEnter: point,
          onFocus: point,
          onPointerLeave: unhint,
          onBlur: unhint,
        })}
      >
        <Icon size={17} />
        {word}
      </Button>
    </RadixToolbar.Button>
  );
}

export function Toolbar(): ReactNode {
  const count = useEditor((state) => state.selection.length);
  const isOn = useSwitched();
  return (
    <RadixToolbar.Root
      aria-label="Acts on the selection"
      className="flex h-11 shrink-0 items-center border-t border-line bg-panel px-2"
    >
      {/* in a narrow window the slots scroll, by wheel and with the focus; zoom stays in sight */}
      <span className="flex min-w-0 flex-1 items-center gap-px overflow-x-auto py-1 [scrollbar-width:none]">
        {slots.map((group, i) => (
          <span key={must(group[0]).id} className="flex shrink-0 items-center gap-px">
            {i > 0 && <Gap />}
            {i === slots.length - 1 && <InspectMenu />}
            {group.map((slot) => (
              <Slot key={slot.id} id={slot.id} icon={iconOf(slot)} word={slot.word} isOn={isOn[slot.id]} />
            ))}
          </span>
        ))}
      </span>
      <span className="flex shrink-0 items-center gap-2 pl-2 text-xs whitespace-nowrap text-soft">
        <span className="hidden min-w-20 text-right 2xl:inline">
          {count === 0 ? 'Nothing selected' : `${count.toLocaleString('en')} selected`}
        </span>
        <ZoomField />
        <Slot id="show" icon={Scan} isOn={undefined} />
      </span>
    </RadixToolbar.Root>
  );
}

/** All that inspects, in one slot: the panels are many, and each has its keys. */
function InspectMenu(): ReactNode {
  const state = useEditing();
  const keys = useKeys();
  const left = useLayout((layout) => layout.left);
  const isOn = inspectCommands.some((command) => command.id === left);
  return (
    <DropdownMenu.Root>
      <RadixToolbar.Button asChild>
        <DropdownMenu.Trigger asChild>
          <Button look="quiet" square aria-label="Inspect" className={`${narrow} ${isOn ? 'bg-accent-wash' : ''}`}>
            <ScanSearch size={17} />
          </Button>
        </DropdownMenu.Trigger>
      </RadixToolbar.Button>
      <DropdownMenu.Portal>
        <DropdownMenu.Content className={menuLook} side="top" align="end" sideOffset={6}>
          <MenuEntries
            groups={[
              inspectCommands.map((command) => ({
                ...command,
                key: keyOf(command.id, keys),
                dim: command.dim(state),
              })),
            ]}
          />
        </DropdownMenu.Content>
      </DropdownMenu.Portal>
    </DropdownMenu.Root>
  );
}

/** The zoom in per cent; a number typed there is taken with Enter. */
function ZoomField(): ReactNode {
  const zoom = useEditor((state) => Math.round(state.view.zoom * 100));
  const [text, setText] = useDraft(String(zoom));
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
