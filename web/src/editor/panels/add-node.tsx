import type { KindSpec } from '@basitax/core/document/catalogue';
import { caption, indexOf } from '@basitax/core/document/doc';
import type { GraphNode, PortRef, Wire } from '@basitax/core/document/schema';
import { must } from '@basitax/core/must';
import { freshNode, mainOutput, newWay } from '@basitax/core/wiring/add';
import { addableKinds, fittingKinds } from '@basitax/core/wiring/fitting';
import { carriedType, portOrPart } from '@basitax/core/wiring/types';
import { Command } from 'cmdk';
import { ChevronLeft, ChevronRight, Star } from 'lucide-react';
import { type KeyboardEvent, type ReactNode, useMemo, useState } from 'react';
import { Button, ListDialog, Segments } from '../../ui/controls.tsx';
import { perform, windowMiddle } from '../actions.ts';
import { useCanvasColors } from '../canvas/colors.ts';
import { typeValues } from '../canvas/values-panel.tsx';
import { type Adding, closeToCanvas } from '../dialogs.ts';
import { noteRecent, turnFavourite, useLayout } from '../layout.ts';
import { type Editing, useEditing } from '../store.ts';

/** What new nodes are put behind: the selected wire, or an output of the selected node. */
interface Behind {
  readonly node: GraphNode;
  readonly wire: Wire | undefined;
  readonly outputs: readonly string[];
}

function behindOf({ doc, selection, kinds }: Editing): Behind | undefined {
  const wire = selection.map((id) => doc.wires.get(id)).find((one) => one !== undefined);
  const node = wire
    ? doc.nodes.get(wire.from.node)
    : selection.map((id) => doc.nodes.get(id)).find((one) => one !== undefined);
  if (!node) return undefined;
  const main = mainOutput(kinds, node);
  const rest = node.ports.filter((port) => port.direction === 'out' && port.id !== main).map((port) => port.id);
  const outputs = wire ? [wire.from.port] : main === undefined ? [] : [main, ...rest];
  return outputs.length > 0 ? { node, wire, outputs } : undefined;
}

interface Offer {
  readonly kind: KindSpec;
  /** Why it does not go where it is wanted. */
  readonly refusal: string | undefined;
}

const places = ['in line', 'alongside', 'by itself'] as const;

/**
 * A node is added by typing: in line, alongside or by itself; at the end of a wire that was let go. What fits stands
 * first, with favourites and recent ones before all.
 */
export function AddNodeDialog({ adding, onClose }: { adding: Adding; onClose: () => void }): ReactNode {
  const state = useEditing();
  const { favourites, recent } = useLayout();
  const behind = useMemo(() => behindOf(state), [state]);
  const atEnd = adding.where === 'at';
  const [where, setWhere] = useState<(typeof places)[number]>(
    adding.where === 'at' || !behind ? 'by itself' : adding.where,
  );
  const [step, setStep] = useState(0);
  const output = behind?.outputs[step % behind.outputs.length];
  const from: PortRef | undefined =
    behind && output !== undefined && where !== 'by itself' && !atEnd
      ? { node: behind.node.id, port: output }
      : undefined;
  const offers = useMemo(
    () => offersOf(state, adding, from, where, behind?.wire),
    [state, adding, from, where, behind],
  );
  const rank = (one: Offer): number => (favourites.includes(one.kind.id) ? 0 : recent.includes(one.kind.id) ? 1 : 2);
  const rows = [...offers].sort(
    (a, b) => Number(a.refusal !== undefined) - Number(b.refusal !== undefined) || rank(a) - rank(b),
  );
  const add = (kind: string): void => {
    closeToCanvas();
    noteRecent(kind);
    const middle = windowMiddle();
    const at = { x: Math.round(adding.x ?? middle.x), y: Math.round(adding.y ?? middle.y) };
    const ends = atEnd ? { ...(adding.from && { from: adding.from }), ...(adding.to && { to: adding.to }) } : {};
    const options = { kind, where, ...(from && { output }), ...at, ...ends };
    // after the dialog has given the focus back
    setTimeout(() => void perform('add-node', options).then(() => typeValues(kind)), 0);
  };
  const onKey = (event: KeyboardEvent): void => {
    if (!event.altKey) return;
    const arrow = event.key === 'ArrowRight' ? 1 : event.key === 'ArrowLeft' ? -1 : 0;
    if (arrow !== 0 && behind) setStep((now) => (now + arrow + behind.outputs.length) % behind.outputs.length);
    else if (event.key === 'ArrowDown' && behind && !atEnd)
      setWhere((now) => must(places[(places.indexOf(now) + 1) % places.length]));
    else return;
    event.preventDefault();
    event.stopPropagation();
  };
  return (
    <ListDialog title="Add a node" onClose={onClose} size="max-w-2xl">
      <Command label="Add a node" loop onKeyDownCapture={onKey}>
        <Command.Input
          autoFocus
          placeholder={placeholder(state, adding, from)}
          className="h-11 w-full border-b border-line bg-transparent px-3 outline-none"
        />
        {behind && !atEnd && (
          <Places
            behind={behind}
            output={must(output)}
            where={where}
            onWhere={setWhere}
            onStep={(by) => setStep((now) => (now + by + behind.outputs.length) % behind.outputs.length)}
          />
        )}
        <Command.List className="max-h-[56vh] overflow-auto p-1.5">
          <Command.Empty className="p-4 text-center text-sm text-soft">No kind has that name.</Command.Empty>
          {adding.wire !== undefined && (
            <Command.Item
              value="Take the wire away"
              onSelect={() => {
                closeToCanvas();
                setTimeout(() => void perform('cut-wires', {}, [must(adding.wire)]), 0);
              }}
              className={rowLook}
            >
              <span className="col-span-3">Take the wire away</span>
              <span className="text-xs text-soft">its input is open then</span>
            </Command.Item>
          )}
          {rows.map(({ kind, refusal }) => (
            <Command.Item
              key={kind.id}
              value={kind.title}
              keywords={[kind.id, kind.code, state.kinds.category(kind.id).title]}
              disabled={refusal !== undefined}
              onSelect={() => add(kind.id)}
              className={rowLook}
            >
              <KindRow
                kind={kind}
                isFavourite={favourites.includes(kind.id)}
                isRecent={recent.includes(kind.id)}
                refusal={refusal}
              />
            </Command.Item>
          ))}
        </Command.List>
      </Command>
    </ListDialog>
  );
}

const rowLook =
  'grid cursor-pointer grid-cols-[1.6rem_2rem_minmax(9rem,1fr)_minmax(8rem,1.4fr)] items-center gap-x-2 rounded-sm px-2 py-1.5 text-sm data-[selected=true]:bg-accent-wash data-[disabled=true]:cursor-default data-[disabled=true]:opacity-55';

function KindRow({
  kind,
  isFavourite,
  isRecent,
  refusal,
}: {
  kind: KindSpec;
  isFavourite: boolean;
  isRecent: boolean;
  refusal: string | undefined;
}): ReactNode {
  const { kinds } = useEditing();
  const colors = useCanvasColors();
  const category = kinds.category(kind.id);
  return (
    <>
      <button
        type="button"
        tabIndex={-1}
        aria-label={`${isFavourite ? 'Removed from favourites' : 'Make a favourite'}: ${kind.title}`}
        aria-pressed={isFavourite}
        className={`grid size-6 place-items-center rounded-sm ${isFavourite ? 'text-accent' : 'text-line hover:text-soft'}`}
        onPointerDown={(event) => event.stopPropagation()}
        onClick={(event) => {
          event.stopPropagation();
          turnFavourite(kind.id);
        }}
      >
        <Star size={14} fill={isFavourite ? 'currentColor' : 'none'} />
      </button>
      <span
        className="rounded-xs py-0.5 text-center text-[11px] font-bold"
        style={{ background: colors.hues[category.hue], color: colors.onHue }}
      >
        {kind.code}
      </span>
      <span className="truncate">{kind.title}</span>
      <span className="truncate text-xs text-soft">
        {refusal ?? `${category.title}${isRecent ? ', used lately' : ''}`}
      </span>
    </>
  );
}

function Places({
  behind,
  output,
  where,
  onWhere,
  onStep,
}: {
  behind: Behind;
  output: string;
  where: (typeof places)[number];
  onWhere: (where: (typeof places)[number]) => void;
  onStep: (by: number) => void;
}): ReactNode {
  const name = behind.node.ports.find((port) => port.direction === 'out' && port.id === output)?.name ?? output;
  return (
    <div className="flex flex-wrap items-center gap-x-4 gap-y-1 border-b border-line bg-ground px-3 py-1.5 text-sm">
      <Segments
        label="Where the node goes"
        value={where}
        choices={places.map((one) => [one, must(one[0]).toUpperCase() + one.slice(1)] as const)}
        onChoose={onWhere}
      />
      {where !== 'by itself' && (
        <span className="flex items-center gap-1">
          <span className="text-soft">takes from</span>
          {behind.outputs.length > 1 && (
            <Button look="quiet" square className="h-6 w-6" aria-label="The output before" onClick={() => onStep(-1)}>
              <ChevronLeft size={14} />
            </Button>
          )}
          <span className="font-bold" aria-live="polite">
            {name}
          </span>
          {behind.outputs.length > 1 && (
            <Button look="quiet" square className="h-6 w-6" aria-label="The next output" onClick={() => onStep(1)}>
              <ChevronRight size={14} />
            </Button>
          )}
          <span className="truncate text-soft">of {caption(behind.node)}</span>
        </span>
      )}
      <span className="ml-auto text-xs text-soft">Alt ↓ where{behind.outputs.length > 1 && ', Alt ← → output'}</span>
    </div>
  );
}

function placeholder({ doc }: Editing, adding: Adding, from: PortRef | undefined): string {
  const end = adding.from ?? adding.to;
  if (end) return `What ${adding.from ? 'takes' : 'gives'} “${end.port}” of ${caption(must(doc.nodes.get(end.node)))}?`;
  return from ? `What goes behind ${caption(must(doc.nodes.get(from.node)))}?` : 'Which kind of node?';
}

/** The kinds on offer, those that fit best first; those that do not fit here say why. */
function offersOf(
  state: Editing,
  adding: Adding,
  from: PortRef | undefined,
  where: (typeof places)[number],
  wire: Wire | undefined,
): Offer[] {
  const { doc, kinds, graph } = state;
  const all = addableKinds(kinds);
  const end = adding.where === 'at' ? (adding.from ?? adding.to) : from;
  if (!end) return [...all].sort((a, b) => (a.title < b.title ? -1 : 1)).map((kind) => ({ kind, refusal: undefined }));
  const direction = adding.where === 'at' && adding.to ? 'in' : 'out';
  const port = portOrPart(kinds, doc.nodes.get(end.node), end.port, direction);
  const type = direction === 'out' ? carriedType(doc, kinds, end) : (port?.type ?? 'any');
  const fitting = fittingKinds(kinds, { type, name: port?.name ?? '' }, direction);
  if (adding.where === 'at') return fitting.map(({ kind }) => ({ kind, refusal: undefined }));
  const wires = where === 'in line' ? (wire ? [wire] : indexOf(doc).wiresOutOf(end.node, end.port)) : [];
  const fits = new Set(fitting.map(({ kind }) => kind.id));
  const offers = fitting.map(({ kind }): Offer => {
    const way =
      wires.length > 0 ? newWay(doc, kinds, freshNode(doc, kinds, graph, kind.id, 'new'), end, wires) : undefined;
    return {
      kind,
      refusal: way && !('input' in way) ? 'does not pass on what the next node needs: add it alongside' : undefined,
    };
  });
  const others = all
    .filter((kind) => !fits.has(kind.id))
    .map((kind): Offer => ({ kind, refusal: `takes no ${kinds.type(type).title}` }));
  return [...offers, ...others];
}
