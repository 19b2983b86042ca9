import { type Rect, unite } from '@basitax/core/document/geometry';
import type { Id } from '@basitax/core/document/ids';
import { must } from '@basitax/core/must';
import type { View } from '../../store.ts';
import type { Picture } from './picture.ts';

/** Longest side of the kept bitmap, in device pixels; beyond it the window alone is kept. */
const longest = 4096;

/** What must be the same for a kept bitmap to be true. */
interface Key {
  readonly scene: Picture['scene'];
  readonly version: number;
  readonly colors: Picture['colors'];
  readonly selected: ReadonlySet<Id>;
  readonly mounted: ReadonlySet<Id>;
  readonly inHand: ReadonlySet<Id> | undefined;
  readonly pictures: number;
}

/**
 * A bitmap of everything that stands still, with margins: panning, zooming and dragging move it instead of drawing
 * thousands of things anew. It is drawn again when it no longer covers the window, when it would look too coarse, or
 * when the window has come to rest.
 */
export class Still {
  private canvas: HTMLCanvasElement | undefined;
  private key: Key | undefined;
  private view: View = { x: 0, y: 0, zoom: 1 };
  private size = { width: 0, height: 0 };

  /**
   * Draws the bitmap into the window. True where it is not as sharp as it could be, so that it wants drawing again at
   * rest.
   */
  draw(
    ctx: CanvasRenderingContext2D,
    picture: Picture,
    key: Key,
    atRest: boolean,
    paint: (ctx: CanvasRenderingContext2D, picture: Picture) => void,
  ): boolean {
    const scale = picture.view.zoom / this.view.zoom;
    const isTrue =
      this.key !== undefined && (Object.keys(key) as (keyof Key)[]).every((name) => must(this.key)[name] === key[name]);
    const isFine = scale > 0.3 && scale < 4 && (scale === 1 || !atRest);
    if (!isTrue || !isFine || !this.covers(picture)) this.paint(picture, key, paint);
    const now = picture.view.zoom / this.view.zoom;
    const [x, y] = [picture.view.x - this.view.x * now, picture.view.y - this.view.y * now];
    ctx.drawImage(must(this.canvas), x, y, this.size.width * now, this.size.height * now);
    return now !== 1;
  }

  private covers({ view, width, height, scene }: Picture): boolean {
    const scale = view.zoom / this.view.zoom;
    const [left, top] = [view.x - this.view.x * scale, view.y - this.view.y * scale];
    const [right, bottom] = [left + this.size.width * scale, top + this.size.height * scale];
    // beyond the graph there is nothing to be covered
    const b = scene.bounds;
    if (!b) return true;
    const near = 40;
    return (
      left <= Math.max(0, b.x * view.zoom + view.x - near) &&
      top <= Math.max(0, b.y * view.zoom + view.y - near) &&
      right >= Math.min(width, (b.x + b.width) * view.zoom + view.x + near) &&
      bottom >= Math.min(height, (b.y + b.height) * view.zoom + view.y + near)
    );
  }

  private paint(picture: Picture, key: Key, paint: (ctx: CanvasRenderingContext2D, picture: Picture) => void): void {
    const ratio = window.devicePixelRatio || 1;
    const area = this.area(picture, longest / ratio);
    this.canvas ??= document.createElement('canvas');
    const [width, height] = [Math.ceil(area.width * ratio), Math.ceil(area.height * ratio)];
    if (this.canvas.width !== width || this.canvas.height !== height) Object.assign(this.canvas, { width, height });
    const ctx = must(this.canvas.getContext('2d'));
    ctx.setTransform(ratio, 0, 0, ratio, 0, 0);
    ctx.clearRect(0, 0, area.width, area.height);
    ctx.fontKerning = 'none';
    this.key = key;
    this.view = { x: picture.view.x - area.x, y: picture.view.y - area.y, zoom: picture.view.zoom };
    this.size = { width: area.width, height: area.height };
    paint(ctx, { ...picture, view: this.view, width: area.width, height: area.height });
  }

  /** The part of the page that is kept: all of the graph where that is not too large, else the window and a margin. */
  private area({ view, width, height, scene }: Picture, most: number): Rect {
    const window = { x: 0, y: 0, width, height };
    const b = scene.bounds;
    if (b) {
      const near = 40;
      const whole = must(
        unite([
          window,
          {
            x: b.x * view.zoom + view.x - near,
            y: b.y * view.zoom + view.y - near,
            width: b.width * view.zoom + 2 * near,
            height: b.height * view.zoom + 2 * near,
          },
        ]),
      );
      if (whole.width * whole.height < width * height * 4 && whole.width < most && whole.height < most) return whole;
    }
    const [mx, my] = [Math.min(width * 0.3, (most - width) / 2), Math.min(height * 0.3, (most - height) / 2)];
    return mx > 0 && my > 0 ? { x: -mx, y: -my, width: width + 2 * mx, height: height + 2 * my } : window;
  }
}
