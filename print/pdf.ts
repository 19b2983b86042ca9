import { must } from '@basitax/core/must';
import type { Look, Shape, Sheet } from '@basitax/core/sheet/shapes';
import PDFDocument from 'pdfkit';
import { faces, fontFile } from './fonts.ts';

type Document = InstanceType<typeof PDFDocument>;

function paint(pdf: Document, { fill, stroke, width = 1, dash }: Look): void {
  if (dash) pdf.dash(must(dash[0]), { space: dash[1] ?? must(dash[0]) });
  if (stroke) pdf.lineWidth(width);
  if (fill && stroke) pdf.fillAndStroke(fill, stroke);
  else if (fill) pdf.fill(fill);
  else if (stroke) pdf.stroke(stroke);
  if (dash) pdf.undash();
}

function draw(pdf: Document, shape: Shape): void {
  switch (shape.type) {
    case 'rect':
      pdf.rect(shape.x, shape.y, shape.width, shape.height);
      paint(pdf, shape.look);
      break;
    case 'ellipse':
      pdf.ellipse(shape.x, shape.y, shape.rx, shape.ry);
      paint(pdf, shape.look);
      break;
    case 'line':
      shape.points.forEach(({ x, y }, i) => {
        if (i === 0) pdf.moveTo(x, y);
        else pdf.lineTo(x, y);
      });
      if (shape.closed) pdf.closePath();
      paint(pdf, shape.look);
      break;
    case 'text': {
      if (shape.text === '') break;
      pdf.font(shape.face).fontSize(shape.size).fillColor(shape.color);
      const wide = shape.anchor ? pdf.widthOfString(shape.text, { kerning: false, ligatures: false } as never) : 0;
      const left = shape.anchor === 'end' ? shape.x - wide : shape.anchor === 'middle' ? shape.x - wide / 2 : shape.x;
      pdf.text(shape.text, left, shape.y, { lineBreak: false, baseline: 'alphabetic', features: [] });
      break;
    }
    case 'group':
      pdf.save();
      if (shape.clip) pdf.rect(shape.clip.x, shape.clip.y, shape.clip.width, shape.clip.height).clip();
      pdf.transform(shape.scale, 0, 0, shape.scale, shape.x, shape.y);
      for (const one of shape.shapes) draw(pdf, one);
      pdf.restore();
      break;
  }
}

/**
 * Sheets as pages of a PDF, in vectors, with the fonts in it. `at` is when it was made, as the file says. O(shapes).
 */
export async function sheetsPdf(
  sheets: readonly Sheet[],
  { title, author, at }: { title: string; author: string; at: Date },
): Promise<Buffer> {
  const pdf = new PDFDocument({
    autoFirstPage: false,
    margin: 0,
    info: { Title: title, Author: author, Creator: 'Basitax', CreationDate: at },
    lang: 'en',
  });
  for (const face of faces) pdf.registerFont(face, fontFile(face));
  const chunks: Buffer[] = [];
  const done = new Promise<void>((end, fail) => {
    pdf.on('data', (chunk: Buffer) => chunks.push(chunk));
    pdf.on('end', end);
    pdf.on('error', fail);
  });
  for (const { width, height, ground, shapes } of sheets) {
    pdf.addPage({ size: [width, height], margin: 0 });
    pdf.rect(0, 0, width, height).fill(ground);
    for (const shape of shapes) draw(pdf, shape);
  }
  pdf.end();
  await done;
  return Buffer.concat(chunks);
}
