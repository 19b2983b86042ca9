import { noScheme } from '@basitax/core/color/scheme';
import { graphSheet } from '@basitax/core/handover/page';
import { sheetColors } from '@basitax/core/sheet/colors';
import type { Loaded } from './command.ts';

/** Pictures that are no text: what only the command line and the server can make. */
export const pictureEndings = ['.png', '.pdf'] as const;
export const isPicture = (name: string): boolean =>
  pictureEndings.some((ending) => name.toLowerCase().endsWith(ending));

/** The outermost graph of a document as PNG or PDF, by a name. `scale`: pixels of a PNG for one at 100 % zoom. */
export async function pictureOf(
  name: string,
  { doc, kinds }: Pick<Loaded, 'doc' | 'kinds'>,
  scale: number,
): Promise<Uint8Array> {
  const sheet = graphSheet(doc, kinds, sheetColors.paper, noScheme);
  if (name.toLowerCase().endsWith('.png')) return (await import('@basitax/print/png')).sheetPng(sheet, scale);
  const { sheetsPdf } = await import('@basitax/print/pdf');
  return sheetsPdf([sheet], { title: doc.head.title, author: '', at: new Date() });
}
