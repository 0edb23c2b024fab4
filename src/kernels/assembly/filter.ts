/**
 * Rows of a plane convolved down and across with symmetric weights: the middle one first, then one for each step away. The border repeats.
 */
export function convolveRows(src: usize, w: i32, h: i32, weights: usize, radius: i32, dst: usize, y0: i32, y1: i32, scratch: usize): void {
  const pad = (radius + 3) & ~3;
  const line = scratch + ((<usize>pad) << 2);
  const stride = (<usize>w) << 2;
  const first = load<f32>(weights);
  const firsts = f32x4.splat(first);
  for (let y = y0; y < y1; y++) {
    const middle = src + <usize>y * stride;
    let x = 0;
    // sums of sixteen samples stay in registers
    for (; x + 16 <= w; x += 16) {
      const o = (<usize>x) << 2;
      let a = f32x4.mul(v128.load(middle + o), firsts), b = f32x4.mul(v128.load(middle + o, 16), firsts);
      let c = f32x4.mul(v128.load(middle + o, 32), firsts), d = f32x4.mul(v128.load(middle + o, 48), firsts);
      for (let k = 1; k <= radius; k++) {
        const above = src + <usize>max(y - k, 0) * stride + o, below = src + <usize>min(y + k, h - 1) * stride + o;
        const weight = v128.load32_splat(weights + ((<usize>k) << 2));
        a = f32x4.add(a, f32x4.mul(f32x4.add(v128.load(above), v128.load(below)), weight));
        b = f32x4.add(b, f32x4.mul(f32x4.add(v128.load(above, 16), v128.load(below, 16)), weight));
        c = f32x4.add(c, f32x4.mul(f32x4.add(v128.load(above, 32), v128.load(below, 32)), weight));
        d = f32x4.add(d, f32x4.mul(f32x4.add(v128.load(above, 48), v128.load(below, 48)), weight));
      }
      storeFour(line + o, a, b, c, d);
    }
    for (; x < w; x++) {
      const o = (<usize>x) << 2;
      let sum = load<f32>(middle + o) * first;
      for (let k = 1; k <= radius; k++) {
        sum += (load<f32>(src + <usize>max(y - k, 0) * stride + o) + load<f32>(src + <usize>min(y + k, h - 1) * stride + o)) * load<f32>(weights + ((<usize>k) << 2));
      }
      store<f32>(line + o, sum);
    }
    const end = line + stride;
    const left = load<f32>(line), right = load<f32>(end - 4);
    for (let k = 1; k <= radius; k++) {
      store<f32>(line - ((<usize>k) << 2), left);
      store<f32>(end + ((<usize>(k - 1)) << 2), right);
    }
    const out = dst + <usize>y * stride;
    for (x = 0; x + 16 <= w; x += 16) {
      const at = line + ((<usize>x) << 2);
      let a = f32x4.mul(v128.load(at), firsts), b = f32x4.mul(v128.load(at, 16), firsts);
      let c = f32x4.mul(v128.load(at, 32), firsts), d = f32x4.mul(v128.load(at, 48), firsts);
      for (let o: usize = 4; o <= (<usize>radius) << 2; o += 4) {
        const weight = v128.load32_splat(weights + o), left = at - o, right = at + o;
        a = f32x4.add(a, f32x4.mul(f32x4.add(v128.load(left), v128.load(right)), weight));
        b = f32x4.add(b, f32x4.mul(f32x4.add(v128.load(left, 16), v128.load(right, 16)), weight));
        c = f32x4.add(c, f32x4.mul(f32x4.add(v128.load(left, 32), v128.load(right, 32)), weight));
        d = f32x4.add(d, f32x4.mul(f32x4.add(v128.load(left, 48), v128.load(right, 48)), weight));
      }
      storeFour(out + ((<usize>x) << 2), a, b, c, d);
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

// @ts-ignore: decorator
@inline
function storeFour(at: usize, a: v128, b: v128, c: v128, d: v128): void {
  v128.store(at, a);
  v128.store(at, b, 16);
  v128.store(at, c, 32);
  v128.store(at, d, 48);
}
