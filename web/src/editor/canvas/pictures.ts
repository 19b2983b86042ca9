/** Small pictures of nodes for the canvas, decoded once each; what is not there yet is drawn when it comes. */
const known = new Map<string, HTMLImageElement>();
let arrived: () => void = () => {};
const most = 2000;

export function onPicture(tell: () => void): void {
  arrived = tell;
}

export function pictureOf(address: string): HTMLImageElement | undefined {
  let image = known.get(address);
  if (!image) {
    if (known.size >= most) known.clear();
    image = new Image();
    image.onload = () => arrived();
    image.src = address;
    known.set(address, image);
  }
  return image.complete && image.naturalWidth > 0 ? image : undefined;
}
