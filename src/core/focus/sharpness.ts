/** Side of a cell of the depth map, px of the picture. */
export const CELL = 2;

/**
 * Energy of second differences of encoded light per cell.
 * @param light encoded 0..1, `rows` rows of `width` with a row above and one below @param rows a multiple of CELL but for the last strip
 * @param covered above nought where the frame shows anything, same layout; samples beside others do not count
 * @returns energy and mean light, one row of cells for every CELL rows; no energy and no light where nothing is covered
 */
export function sharpnessOf(light: Float32Array, covered: Float32Array, width: number, rows: number): { energy: Float32Array; mean: Float32Array } {
  const columns = Math.ceil(width / CELL);
  const lines = Math.ceil(rows / CELL);
  const energy = new Float32Array(columns * lines);
  const mean = new Float32Array(columns * lines);
  const counts = new Uint8Array(columns * lines);
  for (let y = 0; y < rows; y++) {
    for (let x = 0; x < width; x++) {
      const i = (y + 1) * width + x;
      const c = (y >> 1) * columns + (x >> 1);
      if (!(covered[i] && covered[i - width] && covered[i + width] && covered[Math.max(i - 1, i - x)] && covered[x + 1 < width ? i + 1 : i])) continue;
      const [l, r] = [x > 0 ? light[i - 1] : light[i], x + 1 < width ? light[i + 1] : light[i]];
      const twice = 2 * light[i];
      const [across, down] = [twice - l - r, twice - light[i - width] - light[i + width]];
      energy[c] += across * across + down * down;
      mean[c] += light[i];
      counts[c]++;
    }
  }
  for (let c = 0; c < energy.length; c++) {
    if (counts[c] === 0) {
      mean[c] = NaN;
      continue;
    }
    energy[c] /= counts[c];
    mean[c] /= counts[c];
  }
  return { energy, mean };
}
