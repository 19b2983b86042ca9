import { themed } from '@basitax/core/color/scheme';
import type { Rect } from '@basitax/core/document/geometry';
import type { Note } from '@basitax/core/document/schema';
import { must } from '@basitax/core/must';
import { plainText } from '@basitax/core/sheet/wrap';
import { markEnds } from '../scene.ts';
import { family, type Picture, readingZoom, toScreen } from './picture.ts';

/** Below this zoom a note folds to a mark of the same size on screen. */
const noteZoom = 0.3;
const foldedSize = 14;

/**
 * Notes and drawn marks: boxes whose text is an element at reading zoom, signs when far out; a dotted line leads to
 * what a note is tied to.
 */
export function drawNotes(ctx: CanvasRenderingContext2D, picture: Picture): void {
  const { scene, view, moving } = picture;
  for (const note of scene.notes) {
    const shift = moving?.ids.has(note.id) ? moving : { dx: 0, dy: 0 };
    const box = toScreen(view, { x: note.x + shift.dx, y: note.y + shift.dy, width: note.width, height: note.height });
    if (note.mark) drawMark(ctx, picture, note, box);
    else if (view.zoom < noteZoom) drawFolded(ctx, picture, note, box);
    else drawBox(ctx, picture, note, box);
  }
}

function drawLeader(
  ctx: CanvasRenderingContext2D,
  { scene, view, colors, moving }: Picture,
  note: Note,
  box: Rect,
): void {
  const target = note.tiedTo === undefined ? undefined : scene.rectOf(note.tiedTo);
  if (!target) return;
  const shift = moving?.ids.has(must(note.tiedTo)) ? moving : { dx: 0, dy: 0 };
  const goal = toScreen(view, { ...target, x: target.x + shift.dx, y: target.y + shift.dy });
  const clamp = (value: number, from: number, to: number): number => Math.max(from, Math.min(to, value));
  const middle = { x: box.x + box.width / 2, y: box.y + box.height / 2 };
  const to = { x: clamp(middle.x, goal.x, goal.x + goal.width), y: clamp(middle.y, goal.y, goal.y + goal.height) };
  const from = { x: clamp(to.x, box.x, box.x + box.width), y: clamp(to.y, box.y, box.y + box.height) };
  ctx.strokeStyle = colors.soft;
  ctx.lineWidth = 1.2;
  ctx.setLineDash([1.5, 3]);
  ctx.beginPath();
  ctx.moveTo(from.x, from.y);
  ctx.lineTo(to.x, to.y);
  ctx.stroke();
  ctx.setLineDash([]);
}

function drawBox(ctx: CanvasRenderingContext2D, picture: Picture, note: Note, box: Rect): void {
  const { colors, view, selected } = picture;
  drawLeader(ctx, picture, note, box);
  const chosen = selected.has(note.id);
  ctx.fillStyle = colors.panel;
  ctx.strokeStyle = chosen ? colors.accent : (themed(note.color, colors.theme) ?? colors.frameEdge);
  ctx.lineWidth = chosen ? 2 : 1;
  ctx.fillRect(box.x, box.y, box.width, box.height);
  ctx.strokeRect(Math.round(box.x) + 0.5, Math.round(box.y) + 0.5, box.width, box.height);
  // a turned-down corner tells it from everything else
  const fold = Math.min(12 * view.zoom, box.width / 3, box.height / 3);
  ctx.beginPath();
  ctx.moveTo(box.x + box.width - fold, box.y);
  ctx.lineTo(box.x + box.width - fold, box.y + fold);
  ctx.lineTo(box.x + box.width, box.y + fold);
  ctx.stroke();
  if (view.zoom >= readingZoom && !picture.isAlone) return;
  drawText(ctx, picture, plainText(note.text), box);
}

function drawText(ctx: CanvasRenderingContext2D, { view, colors }: Picture, text: string, box: Rect): void {
  const size = 12 * view.zoom;
  ctx.font = `400 ${size}px ${family}`;
  ctx.fillStyle = colors.ink;
  ctx.textBaseline = 'top';
  ctx.textAlign = 'left';
  let line = '';
  let y = box.y + 7 * view.zoom;
  const flush = (): void => {
    if (y + size < box.y + box.height) ctx.fillText(line, box.x + 8 * view.zoom, y);
    y += size * 1.3;
  };
  for (const word of text.split(/\s+/)) {
    const longer = line === '' ? word : `${line} ${word}`;
    if (ctx.measureText(longer).width > box.width - 16 * view.zoom && line !== '') {
      flush();
      line = word;
    } else line = longer;
  }
  flush();
}

/** Far out: a little sheet with lines on it, in the middle of where the note is. */
function drawFolded(ctx: CanvasRenderingContext2D, { colors, selected }: Picture, note: Note, box: Rect): void {
  const [x, y] = [
    Math.round(box.x + box.width / 2 - foldedSize / 2),
    Math.round(box.y + box.height / 2 - foldedSize / 2),
  ];
  ctx.fillStyle = colors.panel;
  ctx.strokeStyle = selected.has(note.id) ? colors.accent : (themed(note.color, colors.theme) ?? colors.soft);
  ctx.lineWidth = selected.has(note.id) ? 2 : 1.2;
  ctx.fillRect(x, y, foldedSize, foldedSize);
  ctx.strokeRect(x, y, foldedSize, foldedSize);
  ctx.beginPath();
  for (const at of [4, 7, 10]) {
    ctx.moveTo(x + 3, y + at);
    ctx.lineTo(x + foldedSize - (at === 10 ? 6 : 3), y + at);
  }
  ctx.stroke();
}

function drawMark(ctx: CanvasRenderingContext2D, picture: Picture, note: Note, box: Rect): void {
  const { colors, view, selected } = picture;
  const chosen = selected.has(note.id);
  ctx.strokeStyle = chosen ? colors.accent : (themed(note.color, colors.theme) ?? colors.warn);
  ctx.fillStyle = ctx.strokeStyle;
  ctx.lineWidth = Math.max(1.5, 3 * view.zoom) + (chosen ? 1 : 0);
  ctx.setLineDash([]);
  ctx.beginPath();
  let words = { x: box.x, y: box.y - 4 };
  if (note.mark === 'ring')
    ctx.ellipse(box.x + box.width / 2, box.y + box.height / 2, box.width / 2, box.height / 2, 0, 0, Math.PI * 2);
  else {
    const [from, to] = markEnds({ ...note, ...box });
    ctx.moveTo(from.x, from.y);
    ctx.lineTo(to.x, to.y);
    words = { x: from.x, y: from.y - 4 };
    if (note.mark === 'arrow') {
      const angle = Math.atan2(to.y - from.y, to.x - from.x);
      const long = Math.max(8, 16 * view.zoom);
      for (const side of [-1, 1]) {
        ctx.moveTo(to.x, to.y);
        ctx.lineTo(to.x - long * Math.cos(angle + side * 0.45), to.y - long * Math.sin(angle + side * 0.45));
      }
    }
  }
  ctx.stroke();
  if (note.text === '' || view.zoom < noteZoom) return;
  ctx.font = `700 ${Math.max(11, 13 * view.zoom)}px ${family}`;
  ctx.textBaseline = 'bottom';
  ctx.textAlign = 'left';
  ctx.fillText(note.text, words.x, words.y);
}
