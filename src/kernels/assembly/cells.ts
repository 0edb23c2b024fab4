// What frames show in cells, for telling what moved.

/**
 * Of each cell of `size` px of three planes (w × h): sums of the channels, the largest and smallest of the largest channel, the smallest and largest light
 * ((r + 2 g + b) / 4), and whether all of it is covered. Rows of cells y0 to y1; out: eight f32 a cell, `columns` cells a row.
 */
export function measureCells(
  r: usize, g: usize, b: usize, coverage: usize, w: i32, h: i32, size: i32, columns: i32, out: usize, y0: i32, y1: i32, scratch: usize,
): void {
  for (let row = y0; row < y1; row++) {
    const bottomRow = min((row + 1) * size, h);
    for (let column = 0; column < columns; column++) {
      const x0 = column * size, x1 = min(w, x0 + size);
      let sr: f64 = 0, sg: f64 = 0, sb: f64 = 0;
      let top: f32 = 0, bottom: f32 = Infinity, low: f32 = Infinity, most: f32 = 0, inside: f32 = 1;
      for (let y = row * size; y < bottomRow; y++) {
        let o = (<usize>(y * w + x0)) << 2;
        for (let x = x0; x < x1; x++, o += 4) {
          const p = load<f32>(r + o), q = load<f32>(g + o), s = load<f32>(b + o);
          sr += p;
          sg += q;
          sb += s;
          const light = <f32>((<f64>p + 2 * <f64>q + <f64>s) * 0.25);
          low = min(low, light);
          most = max(most, light);
          const largest = max(p, max(q, s));
          top = max(top, largest);
          bottom = min(bottom, largest);
          if (load<f32>(coverage + o) == 0) inside = 0;
        }
      }
      const at = out + ((<usize>(row * columns + column)) << 5);
      store<f32>(at, <f32>sr);
      store<f32>(at, <f32>sg, 4);
      store<f32>(at, <f32>sb, 8);
      store<f32>(at, top, 12);
      store<f32>(at, bottom, 16);
      store<f32>(at, low, 20);
      store<f32>(at, most, 24);
      store<f32>(at, inside, 28);
    }
  }
}
