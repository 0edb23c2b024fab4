import type { Rectangle } from "../core/geometry/rectangle";
import type { RenderedView } from "../engine/operations/view/renderView";
import type { ScreenSpace } from "../engine/operations/view/ViewSpec";

/** Pixels of a view at a level, as the engine last drew them, with the keys of their tiles. */
export class TileBuffer {
  /** kept to be shown again, so that nothing is drawn into it any more */
  frozen = false;

  private constructor(
    readonly canvas: OffscreenCanvas,
    readonly rect: Rectangle,
    readonly level: number,
    readonly keys: string[],
  ) {}

  /** A drawing together with what of it was there before. @param before the buffer that it was asked for with */
  static of(rendered: RenderedView, before: TileBuffer | null, space: ScreenSpace): TileBuffer {
    const { rect, level, keys, pieces } = rendered;
    const held = before && before.level === level ? before : null;
    const same = held && held.rect.x === rect.x && held.rect.y === rect.y && held.rect.width === rect.width && held.rect.height === rect.height;
    const canvas = same && !held.frozen ? held.canvas : new OffscreenCanvas(Math.max(1, rect.width), Math.max(1, rect.height));
    const g = canvas.getContext("2d", { colorSpace: space })!;
    if (held && canvas !== held.canvas) g.drawImage(held.canvas, held.rect.x - rect.x, held.rect.y - rect.y);
    for (const piece of pieces) {
      const { rect: part, rgba } = piece;
      const image = new ImageData(rgba, part.width, part.height, { colorSpace: space });
      if (piece.level === level) {
        g.putImageData(image, part.x - rect.x, part.y - rect.y);
        continue;
      }
      // what there was no time for is shown soft beside what is sharp
      const s = 2 ** (piece.level - level);
      const coarse = new OffscreenCanvas(part.width, part.height);
      coarse.getContext("2d", { colorSpace: space })!.putImageData(image, 0, 0);
      const place = [part.x * s - rect.x, part.y * s - rect.y, part.width * s, part.height * s] as const;
      // where nothing is to be seen nothing must be left
      g.clearRect(...place);
      g.drawImage(coarse, ...place);
    }
    return new TileBuffer(canvas, rect, level, keys);
  }
}
