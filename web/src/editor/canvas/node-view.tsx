import { nodeColor } from '@basitax/core/color/scheme';
import { builtin } from '@basitax/core/document/builtin';
import { isVertical, ticket } from '@basitax/core/document/geometry';
import type { Kinds } from '@basitax/core/document/kinds';
import { type Face, hasGlyph } from '@basitax/core/document/metrics';
import type { Flow, GraphNode } from '@basitax/core/document/schema';
import { linkShape, linkTextLeft } from '@basitax/core/sheet/outlines';
import { Lock, Pin } from 'lucide-react';
import { memo, type ReactNode } from 'react';
import type { Colors } from './colors.ts';
import { inkOn } from './ink.ts';
import { markBox, markImage } from './marks.ts';
import { isWhole, linkWords } from './paint/links.ts';
import { closedMarks, passLines } from './paint/nodes.ts';
import type { LinkLook, SceneNode } from './scene.ts';

/** Text as core measured it: signs that the shipped font lacks take one em each, whatever stands in for them. */
function Text({ text, face }: { text: string; face: Face }): ReactNode {
  if (Array.from(text).every((sign) => hasGlyph(face, sign.codePointAt(0) ?? 0))) return text;
  return Array.from(text).map((sign, i) =>
    hasGlyph(face, sign.codePointAt(0) ?? 0) ? (
      sign
    ) : (
      // biome-ignore lint/suspicious/noArrayIndexKey: signs have no identity but their place
      <span key={i} className="missing-glyph">
        {sign}
      </span>
    ),
  );
}

interface NodeViewProps {
  readonly item: SceneNode;
  readonly kinds: Kinds;
  readonly flow: Flow;
  readonly colors: Colors;
  readonly selected: boolean;
  /** What stands at a reroute point: its own label, or that of the labelled one upstream. */
  readonly label: { readonly text: string; readonly isOwn: boolean } | undefined;
  /** How a beacon, tap or feed stands. */
  readonly link: LinkLook | undefined;
  /** Which of its inputs standing feeds supply, in words. */
  readonly fed: string | undefined;
  readonly dx: number;
  readonly dy: number;
}

/**
 * A node as an element: what keyboards and screen readers reach. Pointers are handled by the canvas for all nodes
 * alike.
 */
export const NodeView = memo(function NodeView({
  item,
  kinds,
  flow,
  colors,
  selected,
  label,
  link,
  fed,
  dx,
  dy,
}: NodeViewProps): ReactNode {
  const { node, geometry, rect } = item;
  const hue = nodeColor(kinds, node, colors.scheme, colors.theme);
  const place = { left: rect.x + dx, top: rect.y + dy, width: rect.width, height: rect.height };
  const passes = node.bypassed ? passLines(item, kinds) : [];
  const passed = node.ports.flatMap((port) =>
    node.bypassed && port.direction === 'out' ? (kinds.passInput(node, port.id)?.name ?? []) : [],
  );
  const described = [
    kinds.title(node.kind),
    link && linkWords(node.kind, link.state),
    node.closed && 'closed',
    geometry.hidden > 0 && `${geometry.hidden} ports hidden`,
    node.bypassed &&
      (passed.length > 0 ? `bypassed, passes ${[...new Set(passed)].join(', ')}` : 'bypassed, passes nothing'),
    node.pinned && 'pinned',
    node.locked && 'locked',
    fed,
    node.inner && 'nested graph, Enter opens it',
    node.kind === builtin.fold && 'Enter unfolds it',
  ]
    .filter(Boolean)
    .join(', ');
  return (
    // biome-ignore lint/a11y/useSemanticElements: a node is a group of its captions and ports, and no form's fieldset
    <div
      role="group"
      // biome-ignore lint/a11y/noNoninteractiveTabindex: nodes are what the keyboard walks and selects
      tabIndex={0}
      aria-label={`${node.beacon ? node.beacon.name : node.label || node.name}, ${described}${selected ? ', selected' : ''}`}
      data-node={node.id}
      data-selected={selected}
      data-bypassed={node.bypassed === true}
      className={
        geometry.shape === 'pennant' || geometry.shape === 'notch'
          ? 'node link'
          : node.kind === builtin.fold
            ? 'node fold'
            : 'node'
      }
      style={{ ...place, borderRadius: geometry.shape === 'point' ? '50%' : 2 }}
    >
      {geometry.shape === 'ticket' ? (
        <Ticket node={node} item={item} kinds={kinds} flow={flow} colors={colors} hue={hue} />
      ) : geometry.shape === 'point' ? (
        label && (
          <span
            className={`absolute bottom-full left-1/2 mb-0.5 -translate-x-1/2 text-[11px] leading-[13px] whitespace-pre ${label.isOwn ? 'font-bold' : 'text-soft'}`}
          >
            {label.text}
          </span>
        )
      ) : (
        link && <Link item={item} look={link} colors={colors} selected={selected} />
      )}
      {passes.length > 0 && (
        <svg
          className="pointer-events-none absolute -top-px -left-px overflow-visible"
          width={rect.width}
          height={rect.height}
          aria-hidden="true"
        >
          {passes.map(({ points, hue: own }) => (
            <polyline
              key={points.join(' ')}
              points={points.join(' ')}
              fill="none"
              stroke={colors.hues[own] ?? colors.edge}
              strokeWidth={2}
            />
          ))}
        </svg>
      )}
      {geometry.closed &&
        closedMarks(geometry).map(({ x, y, width, height }) => (
          <span
            key={`${x} ${y}`}
            className="mark"
            style={{ left: x - 1, top: y - 1, width, height, background: colors.edge }}
            aria-hidden="true"
          />
        ))}
      {(geometry.closed ? [] : geometry.ports).map((port) => {
        const type = link && geometry.shape !== 'ticket' ? link.type : kinds.type(port.type);
        const backgroundImage = markImage(type.sign, colors.hues[type.hue] ?? colors.edge, colors.ticket);
        const half = markBox / 2 + 1;
        return (
          <span
            key={`${port.direction} ${port.id}`}
            className="mark"
            style={{ left: port.x - half, top: port.y - half, width: markBox, height: markBox, backgroundImage }}
            aria-hidden="true"
          />
        );
      })}
      {node.locked && <Lock size={11} className="absolute -top-2 right-3 rounded-full bg-ticket" aria-hidden="true" />}
      {node.pinned && (
        <Pin size={12} className="absolute -top-2 -right-1.5 rounded-full bg-ticket" aria-hidden="true" />
      )}
    </div>
  );
});

/** A beacon or tap: its outline with the band, and the name. */
function Link({
  item: { geometry },
  look,
  colors,
  selected,
}: {
  item: SceneNode;
  look: LinkLook;
  colors: Colors;
  selected: boolean;
}): ReactNode {
  const { outline, band } = linkShape(geometry);
  const isLost = look.state === 'lost';
  const hue = isLost ? colors.warn : (colors.hues[look.type.hue] ?? colors.edge);
  return (
    <>
      <svg
        className="pointer-events-none absolute top-0 left-0 overflow-visible"
        width={geometry.width}
        height={geometry.height}
        aria-hidden="true"
      >
        <polygon
          points={outline.join(' ')}
          fill={colors.ticket}
          stroke={selected ? colors.accent : isLost ? colors.warn : colors.edge}
          strokeWidth={selected ? 3 : 1}
          strokeDasharray={isLost ? '3 2' : undefined}
        />
        <polygon points={band.join(' ')} fill={isWhole(look) ? hue : 'none'} stroke={hue} strokeWidth={1.2} />
      </svg>
      <span
        className="absolute top-[1px] text-[11px] leading-[16px] font-bold whitespace-pre"
        style={{ left: linkTextLeft(geometry.shape) }}
      >
        <Text text={geometry.title} face="bold" />
      </span>
    </>
  );
}

function Ticket({
  node,
  item,
  kinds,
  flow,
  colors,
  hue,
}: {
  node: GraphNode;
  item: SceneNode;
  kinds: Kinds;
  flow: Flow;
  colors: Colors;
  hue: string;
}): ReactNode {
  const { geometry } = item;
  return (
    <>
      <span className="spine" style={{ background: hue, color: inkOn(hue, colors) }} aria-hidden="true">
        {kinds.code(node.kind)}
        {geometry.hidden > 0 && geometry.height >= 50 && (
          <span className="absolute inset-x-0 bottom-px">+{geometry.hidden}</span>
        )}
      </span>
      {geometry.picture && (
        <img
          src={node.picture}
          alt=""
          draggable={false}
          className="pointer-events-none absolute max-w-none"
          style={{
            left: geometry.picture.x - 1,
            top: geometry.picture.y - 1,
            width: geometry.picture.width,
            height: geometry.picture.height,
          }}
        />
      )}
      <span className="node-title">
        <Text text={geometry.title} face="bold" />
      </span>
      <span className="node-subtitle">
        <Text text={geometry.subtitle} face="regular" />
      </span>
      {(geometry.closed ? [] : geometry.ports).map((port) => {
        const style = isVertical(flow)
          ? {
              left: port.x - 1,
              top: port.side === 'top' ? 33 : undefined,
              bottom: port.side === 'bottom' ? 2 : undefined,
              transform: 'translateX(-50%)',
            }
          : { top: port.y - 8, ...(port.side === 'right' ? { right: 9 } : { left: ticket.spine + ticket.padX - 1 }) };
        return (
          <span key={`${port.direction} ${port.id}`} className="port-name" style={style}>
            <Text text={port.text} face="regular" />
          </span>
        );
      })}
    </>
  );
}
