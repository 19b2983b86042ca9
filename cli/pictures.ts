import { noScheme } from '@basitax/core/color/scheme';
import { graphSheet } from '@basitax/core/handover/page';
import { sheetColors } from '@basitax/core/sheet/colors';
import type { Loaded } from './command.ts';

/** Pictures that are no text: what only the command line and the server can make. */
export const pictureEndings = ['.png', '.pdf'] as const;
export const isPicture = (name: string): boolean =>
  pictureEndings.some((ending) => name.toLowerCase().endsWith(ending));

/**
 * The outermost graph of a document as PNG or PDF, by a name, and what there is to say of it. `scale`: pixels
 * of a PNG for one at 100 % zoom.
 */
export async function pictureOf(
  name: string,
  { doc, kinds }: Pick<Loaded, 'doc' | 'kinds'>,
  scale: number,
): Promise<{ readonly content: Uint8Array; readonly note?: string }> {
  const sheet = graphSheet(doc, kinds, sheetColors.paper, noScheme);
  if (name.toLowerCase().endsWith('.png')) {
    const { pictureScale, sheetPng } = await import('@basitax/print/png');
    const fitting = pictureScale(sheet, scale);
    const note =
      fitting < scale
        ? `drawn at ${Math.round(fitting * 1000) / 10} % of its size, since the picture would be too large; SVG and PDF have no such limit.`
        : undefined;
    return { content: sheetPng(sheet, fitting), ...(note !== undefined && { note }) };
  }
  const { sheetsPdf } = await import('@basitax/print/pdf');
  return { content: await sheetsPdf([sheet], { title: doc.head.title, author: '', at: new Date() }) };
}
