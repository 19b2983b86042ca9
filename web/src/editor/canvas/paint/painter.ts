import type { Id } from '@basitax/core/document/ids';
import { must } from '@basitax/core/must';
import type { Marks } from '../../inspect/marks.ts';
import { drawDiffering, drawGhosts, drawHandles, drawOrder, drawOutlines, drawRegions, drawTabs } from './above.ts';
import { drawGround } from './ground.ts';
import { drawMarks } from './inspection.ts';
import { drawFed, drawTraces } from './links.ts';
import { drawNodes } from './nodes.ts';
import { type Picture, prepare, readingZoom, visibleArea } from './picture.ts';
import { Still } from './still.ts';
import { drawWires, wiresInHand } from './wires.ts';

/** More nodes than this in the window are moved as a bitmap. */
const manyNodes = 150;
/** More nodes than this in hand leave everything else as a bitmap. */
export const mostDraggedElements = 8;

const nothing: ReadonlySet<Id> = new Set();

/**
 * Draws the scene into its canvases: frames below; wires, nodes that are no elements, and titles above them; numbers
 * over all.
 */
export class Painter {
  private readonly still = new Still();
  private pictures = 0;

  /** A picture of a node has come; what was drawn without it is drawn again. */
  pictureCame(): void {
    this.pictures++;
  }

  /**
   * True where the window should be drawn once more when it has come to rest. `isMoving`: the window moves, and no node
   * is an element.
   */
  draw(
    ground: CanvasRenderingContext2D,
    graph: CanvasRenderingContext2D,
    picture: Picture,
    atRest: boolean,
    isMoving = false,
  ): boolean {
    drawGround(ground, picture);
    prepare(graph, picture.width, picture.height);
    if (picture.ghosts) drawGhosts(graph, picture, picture.ghosts);
    const isCoarse = this.drawScene(graph, picture, atRest, isMoving);
    drawTraces(graph, picture, picture.trace);
    if (picture.outlines) drawOutlines(graph, picture, picture.outlines);
    drawTabs(graph, picture);
    if (picture.regions.length > 0) drawRegions(graph, picture, picture.regions);
    drawHandles(graph, picture);
    return isCoarse;
  }

  private drawScene(ctx: CanvasRenderingContext2D, picture: Picture, atRest: boolean, isMoving: boolean): boolean {
    const { scene, view, width, height, moving } = picture;
    const isFar =
      view.zoom < readingZoom && scene.countWithin(visibleArea(view, width, height), manyNodes) >= manyNodes;
    const isHeavy = moving !== undefined && moving.ids.size > mostDraggedElements;
    const inHand = moving?.ids;
    const shown = isFar ? { ...picture, mounted: nothing } : picture;
    if (!isFar && !isHeavy && !isMoving) {
      drawStanding(ctx, picture, inHand);
      if (moving) drawInHand(ctx, picture);
      return false;
    }
    const key = {
      scene,
      version: scene.version,
      colors: picture.colors,
      selected: picture.selected,
      mounted: shown.mounted,
      inHand,
      pictures: this.pictures,
    };
    const isCoarse = this.still.draw(ctx, shown, key, atRest, (own, shifted) =>
      drawStanding(own, { ...shifted, moving: undefined }, inHand),
    );
    if (moving) drawInHand(ctx, shown);
    return isCoarse;
  }
}

/** Everything but what is in hand. */
function drawStanding(ctx: CanvasRenderingContext2D, picture: Picture, inHand: ReadonlySet<Id> | undefined): void {
  const { scene, view, width, height, mounted } = picture;
  const area = visibleArea(view, width, height, 60);
  const wires = scene.wiresWithin(area);
  drawWires(
    ctx,
    { ...picture, moving: undefined },
    inHand ? wires.filter((wire) => !inHand.has(wire.from.node) && !inHand.has(wire.to.node)) : wires,
  );
  const nodes = scene.nodesWithin(area);
  ctx.save();
  ctx.translate(view.x, view.y);
  ctx.scale(view.zoom, view.zoom);
  drawFed(ctx, picture, inHand ? nodes.filter(({ node }) => !inHand.has(node.id)) : nodes);
  drawNodes(
    ctx,
    picture,
    mounted.size === 0 && !inHand ? nodes : nodes.filter(({ node }) => !mounted.has(node.id) && !inHand?.has(node.id)),
  );
  ctx.restore();
}

/** The nodes in hand, where they are not elements, with their wires. */
function drawInHand(ctx: CanvasRenderingContext2D, picture: Picture): void {
  const { scene, view, mounted } = picture;
  const moving = must(picture.moving);
  drawWires(ctx, picture, wiresInHand(scene, moving));
  ctx.save();
  ctx.translate(view.x + moving.dx * view.zoom, view.y + moving.dy * view.zoom);
  ctx.scale(view.zoom, view.zoom);
  const items = [...moving.ids].filter((id) => !mounted.has(id)).flatMap((id) => scene.get(id) ?? []);
  drawNodes(ctx, picture, items);
  ctx.restore();
}

/**
 * What lies over the elements too: what inspecting has to show, the order of selection, what differs from the scheme.
 */
export function drawOver(
  ctx: CanvasRenderingContext2D,
  picture: Picture,
  selection: readonly Id[] | undefined,
  hasDiffering: boolean,
  marks: Marks,
): void {
  prepare(ctx, picture.width, picture.height);
  drawMarks(ctx, picture, marks);
  if (hasDiffering) drawDiffering(ctx, picture);
  if (selection) drawOrder(ctx, picture, selection);
}
