import type { Page } from 'playwright';

/** Mean difference of two screenshots, 0 to 255, as the page sees them: the browser decodes its own pictures. */
export function difference(page: Page, a: Buffer, b: Buffer): Promise<number> {
  return page.evaluate(
    async (pictures) => {
      const read = (base64: string) =>
        createImageBitmap(
          new Blob([Uint8Array.from(atob(base64), (sign) => sign.charCodeAt(0))], { type: 'image/png' }),
        ).then((image) => {
          // a quarter of the size: how text is smoothed does not count, where things are does
          const canvas = new OffscreenCanvas(Math.floor(image.width / 4), Math.floor(image.height / 4));
          const ctx = canvas.getContext('2d')!;
          ctx.drawImage(image, 0, 0, canvas.width, canvas.height);
          return ctx.getImageData(0, 0, canvas.width, canvas.height).data;
        });
      const [one, other] = await Promise.all(pictures.map(read));
      let sum = 0;
      one!.forEach((value, i) => {
        sum += Math.abs(value - other![i]!);
      });
      return sum / one!.length;
    },
    [a.toString('base64'), b.toString('base64')],
  );
}

/** How many pixels of the canvases have a colour. */
export const pixelsOf = (page: Page, hex: string): Promise<number> =>
  page.evaluate((wanted) => {
    const [r, g, b] = [1, 3, 5].map((i) => Number.parseInt(wanted.slice(i, i + 2), 16));
    let count = 0;
    for (const canvas of document.querySelectorAll<HTMLCanvasElement>('[data-canvas] > canvas')) {
      const { data } = canvas.getContext('2d')!.getImageData(0, 0, canvas.width, canvas.height);
      for (let i = 0; i < data.length; i += 4)
        if (data[i] === r && data[i + 1] === g && data[i + 2] === b && data[i + 3] === 255) count++;
    }
    return count;
  }, hex);
