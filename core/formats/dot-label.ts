import type { NodeGeometry, PlacedPort } from '../document/geometry.ts';
import { ellipsis, textWidth } from '../document/metrics.ts';
import { recordFields, recordText } from './dot-record.ts';

/** The name of a port in DOT: a node may have an input and an output of one id. */
export const portId = (direction: 'in' | 'out', id: string): string => `${direction}_${id}`;

const htmlEntities: Readonly<Record<string, string>> = { '&': '&amp;', '<': '&lt;', '>': '&gt;', '"': '&quot;' };
const htmlText = (text: string): string => text.replace(/[&<>"]/g, (found) => htmlEntities[found] as string);

// the fonts that another program draws with are a little wider than the shipped ones
const wider = 1.12;
const lineHeight = 1.2;

/** A text in a cell, at the size that it has here or as small as it takes to fit. */
function fitted(text: string, size: number, width: number, height: number): string {
  if (text === '' || width < 4) return '';
  const points = Math.max(1, Math.min(size, Math.floor((height / lineHeight) * 2) / 2));
  const said = ellipsis(text, 'regular', points * wider, width);
  return points === usualSize ? htmlText(said) : `<FONT POINT-SIZE="${points}">${htmlText(said)}</FONT>`;
}

/** The size that letters have in a table where nothing says another one. */
export const usualSize = 10;

const cell = (width: number, height: number, inside: string, more = ''): string =>
  `<TD FIXEDSIZE="TRUE" WIDTH="${width}" HEIGHT="${height}"${more}>${inside}</TD>`;

/** The cell of a port: its middle lies where the port does. */
function portCell(
  port: PlacedPort | undefined,
  width: number,
  height: number,
  align: 'LEFT' | 'RIGHT' | 'CENTER',
): string {
  if (!port) return cell(width, height, '');
  const text = fitted(port.text, usualSize, width - 8, height);
  const padded = text === '' || align === 'CENTER' ? text : align === 'LEFT' ? `&#160;${text}` : `${text}&#160;`;
  return cell(width, height, padded, ` PORT="${htmlText(portId(port.direction, port.id))}" ALIGN="${align}"`);
}

const table = (width: number, height: number, rows: readonly string[]): string =>
  `<<TABLE BORDER="0" CELLBORDER="0" CELLSPACING="0" CELLPADDING="0" FIXEDSIZE="TRUE" WIDTH="${width}" HEIGHT="${height}">${rows.join('')}</TABLE>>`;

/**
 * A node as a table of the size that it has here, with a cell for each port, in the middle of the row or column where its
 * wires meet it. All sizes are whole points.
 */
export function ticketLabel(geometry: NodeGeometry): string {
  const [width, height] = [Math.round(geometry.width), Math.round(geometry.height)];
  const isUpright = geometry.ports.some(({ side }) => side === 'top' || side === 'bottom');
  const head = (w: number, h: number, span: number): string => {
    const title = fitted(geometry.title, 12, w - 8, geometry.subtitle ? h / 2 : h);
    const subtitle = fitted(geometry.subtitle, 9, w - 8, h / 2);
    const inside = [title, subtitle].filter(Boolean).join('<BR/>');
    return `<TR>${cell(w, h, inside, span > 1 ? ` COLSPAN="${span}"` : '')}</TR>`;
  };
  if (isUpright) return table(width, height, uprightRows(geometry, width, height, head));
  const [left, right] = (['left', 'right'] as const).map((side) =>
    geometry.ports.filter((port) => port.side === side).sort((a, b) => a.y - b.y),
  ) as [PlacedPort[], PlacedPort[]];
  const count = Math.max(left.length, right.length);
  if (count === 0 || geometry.closed) return table(width, height, [head(width, height, 1)]);
  const first = (left[0] ?? right[0]) as PlacedPort;
  const second = left[1] ?? right[1];
  const row = second ? second.y - first.y : Math.max(2, (height - first.y) * 2);
  const top = Math.max(1, Math.round(first.y - row / 2));
  const most = (ports: readonly PlacedPort[]): number =>
    ports.reduce((widest, { text }) => Math.max(widest, textWidth(text, 'regular', 10)), 0);
  const [wantLeft, wantRight] = [most(left) + 6, most(right) + 6];
  const share = Math.round((width * wantLeft) / Math.max(1, wantLeft + wantRight));
  const rows = [head(width, top, 2)];
  let done = top;
  for (let i = 0; i < count; i++) {
    // heights are rounded so that the rows stay where they are as a whole
    const next =
      i === count - 1 && !second
        ? Math.min(height, Math.round(done + row))
        : Math.round(first.y - row / 2 + row * (i + 1));
    const tall = Math.max(1, Math.min(next, height) - done);
    rows.push(`<TR>${portCell(left[i], share, tall, 'LEFT')}${portCell(right[i], width - share, tall, 'RIGHT')}</TR>`);
    done += tall;
  }
  if (height - done >= 1) rows.push(`<TR>${cell(width, height - done, '', ' COLSPAN="2"')}</TR>`);
  return table(width, height, rows);
}

function uprightRows(
  geometry: NodeGeometry,
  width: number,
  height: number,
  head: (width: number, height: number, span: number) => string,
): string[] {
  const rowOf = (side: 'top' | 'bottom', tall: number): string[] => {
    const ports = geometry.ports.filter((port) => port.side === side).sort((a, b) => a.x - b.x);
    if (ports.length === 0) return [];
    const cells: string[] = [];
    let done = 0;
    for (const [i, port] of ports.entries()) {
      const next = ports[i + 1];
      // as wide on either side of the port as there is room for
      const half = Math.min(port.x - done, next ? (next.x - port.x) / 2 : width - port.x);
      const [from, to] = [Math.round(port.x - half), Math.round(port.x + half)];
      if (from - done >= 1) cells.push(cell(from - Math.round(done), tall, ''));
      cells.push(portCell(port, Math.max(1, to - Math.max(from, Math.round(done))), tall, 'CENTER'));
      done = to;
    }
    if (width - done >= 1) cells.push(cell(width - Math.round(done), tall, ''));
    const inner = `<TABLE BORDER="0" CELLBORDER="0" CELLSPACING="0" CELLPADDING="0"><TR>${cells.join('')}</TR></TABLE>`;
    return [`<TR><TD>${inner}</TD></TR>`];
  };
  const tall = Math.min(18, Math.floor(height / 3));
  const [above, below] = [rowOf('top', tall), rowOf('bottom', tall)];
  const middle = height - tall * (above.length + below.length);
  return [...above, head(width, Math.max(1, middle), 1), ...below];
}

/** Where text may stand in a shape of a width of 1 (common practice of the trade: an inscribed box). */
const roomOf = (shape: string): number => {
  if (/^(?:|ellipse|oval|circle|doublecircle|egg|Mcircle)$/.test(shape)) return Math.SQRT1_2;
  if (/^(?:diamond|Mdiamond|triangle|invtriangle|star|house|invhouse)$/.test(shape)) return 0.5;
  return /^(?:hexagon|octagon|doubleoctagon|tripleoctagon|pentagon|septagon|trapezium|invtrapezium|parallelogram|polygon|cylinder|folder|box3d|cds|note|tab|component)$/.test(
    shape,
  )
    ? 0.75
    : 1;
};

/**
 * The size of letters, in points, at which a label stays in a node of another program that keeps its size: 14 where it
 * fits, else less. O(label).
 */
export function fittingSize(label: string, shape: string, width: number, height: number): number {
  const usual = 14;
  if (/record$/i.test(shape)) {
    const natural = recordSize(label, false);
    return Math.max(1, Math.floor(usual * Math.min(1, width / natural.width, height / natural.height) * 10) / 10);
  }
  const lines = recordText(label).split('\n');
  const widest = lines.reduce((most, line) => Math.max(most, textWidth(line, 'regular', usual) * wider), 1);
  const share = roomOf(shape);
  const [across, down] = [(width * share - 6) / widest, (height * share - 2) / (lines.length * usual * lineHeight)];
  return Math.max(1, Math.floor(usual * Math.min(1, across, down) * 10) / 10);
}

/** The size of a record at 14 points: fields beside one another, and turned with each brace (shapes.html, from memory). */
function recordSize(label: string, isStanding: boolean): { width: number; height: number } {
  let [width, height] = [0, 0];
  for (const field of recordFields(label)) {
    const lines = field.text.split('\n');
    const own =
      field.inner === undefined
        ? {
            width: lines.reduce((most, line) => Math.max(most, textWidth(line, 'regular', 14) * wider), 0) + 16,
            height: lines.length * 14 * lineHeight + 8,
          }
        : recordSize(field.inner, !isStanding);
    if (isStanding) [width, height] = [Math.max(width, own.width), height + own.height];
    else [width, height] = [width + own.width, Math.max(height, own.height)];
  }
  return { width: Math.max(1, width), height: Math.max(1, height) };
}
