/**
 * Rows of a plane convolved down and across with symmetric weights: the middle one first, then one for each step away. The border repeats.
 */
export function convolveRows(src: usize, w: i32, h: i32, weights: usize, radius: i32, dst: usize, y0: i32, y1: i32, scratch: usize): void {
  const pad = (radius + 3) & ~3;
  const line = scratch + ((<usize>pad) << 2);
  const stride = (<usize>w) << 2;
  for (let y = y0; y < y1; y++) {
    const middle = src + <usize>y * stride;
    const first = load<f32>(weights);
    const firsts = f32x4.splat(first);
    let x = 0;
    for (; x + 4 <= w; x += 4) v128.store(line + ((<usize>x) << 2), f32x4.mul(v128.load(middle + ((<usize>x) << 2)), firsts));
    for (; x < w; x++) store<f32>(line + ((<usize>x) << 2), load<f32>(middle + ((<usize>x) << 2)) * first);
    for (let k = 1; k <= radius; k++) {
      const above = src + <usize>max(y - k, 0) * stride, below = src + <usize>min(y + k, h - 1) * stride;
      const weight = load<f32>(weights + ((<usize>k) << 2));
      const four = f32x4.splat(weight);
      for (x = 0; x + 4 <= w; x += 4) {
        const o = (<usize>x) << 2;
        v128.store(line + o, f32x4.add(v128.load(line + o), f32x4.mul(f32x4.add(v128.load(above + o), v128.load(below + o)), four)));
      }
      for (; x < w; x++) {
        const o = (<usize>x) << 2;
        store<f32>(line + o, load<f32>(line + o) + (load<f32>(above + o) + load<f32>(below + o)) * weight);
      }
    }
    const end = line + stride;
    const left = load<f32>(line), right = load<f32>(end - 4);
    for (let k = 1; k <= radius; k++) {
      store<f32>(line - ((<usize>k) << 2), left);
      store<f32>(end + ((<usize>(k - 1)) << 2), right);
    }
    const out = dst + <usize>y * stride;
    for (x = 0; x + 4 <= w; x += 4) {
      const at = line + ((<usize>x) << 2);
      let sum = f32x4.mul(v128.load(at), firsts);
      for (let k = 1; k <= radius; k++) {
        const o = (<usize>k) << 2;
        sum = f32x4.add(sum, f32x4.mul(f32x4.add(v128.load(at - o), v128.load(at + o)), v128.load32_splat(weights + o)));
      }
      v128.store(out + ((<usize>x) << 2), sum);
    }
    for (; x < w; x++) {
      const at = line + ((<usize>x) << 2);
      let sum = load<f32>(at) * first;
      for (let k = 1; k <= radius; k++) {
        const o = (<usize>k) << 2;
        sum += (load<f32>(at - o) + load<f32>(at + o)) * load<f32>(weights + o);
      }
      store<f32>(out + ((<usize>x) << 2), sum);
    }
  }
}
