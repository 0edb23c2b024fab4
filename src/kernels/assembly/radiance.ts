// Weighted mean of exposure-normalised frames, one channel. The weight is the inverse variance of the radiance estimate under
// shot and read noise (Granados et al. 2010, equations 3 to 6; form recalled from memory), taken at a common first estimate so
// that a frame's own noise does not steer its weight.

// @ts-ignore: decorator
@inline
function unclipped(x: v128): v128 {
  // 1 below 0.90, 0 above 0.985, smooth between
  const t = f32x4.min(f32x4.max(f32x4.mul(f32x4.sub(f32x4.splat(0.985), x), f32x4.splat(11.7647059)), f32x4.splat(0)), f32x4.splat(1));
  return f32x4.mul(f32x4.mul(t, t), f32x4.sub(f32x4.splat(3), f32x4.add(t, t)));
}

/**
 * validity = coverage · (how far the largest channel is from clipping, and a trace so that covered samples can be told).
 * One validity for all channels: were each channel judged alone, a fraction of a pixel of misfit would colour bright edges.
 */
export function judgeSamples(r: usize, g: usize, b: usize, coverage: usize, y0: i32, y1: i32, scratch: usize): void {
  for (let i = y0; i < y1; i += 4) {
    const o = (<usize>i) << 2;
    const top = f32x4.max(f32x4.max(v128.load(r + o), v128.load(g + o)), v128.load(b + o));
    v128.store(coverage + o, f32x4.mul(v128.load(coverage + o), f32x4.add(unclipped(top), f32x4.splat(1e-7))));
  }
}

/**
 * values, validities: tables of `frames` pointers to f32 samples (linear 0..1; from judgeSamples). exposures: f32 each, 2^EV
 * against the reference. shot, readSquared: variance = shot · x + readSquared. dominant: u8 samples or 0. Samples y0 to y1,
 * multiple of 4. Where nothing covers a sample the result is NaN. Where every frame clips, the shortest covered exposure is used.
 */
export function mergeRadiance(
  frames: i32, values: usize, validities: usize, exposures: usize, shot: f32, readSquared: f32,
  dst: usize, dominant: usize, y0: i32, y1: i32, scratch: usize,
): void {
  const zero = f32x4.splat(0);
  for (let i = y0; i < y1; i += 4) {
    const o = (<usize>i) << 2;
    let sum = zero, light = zero, valid = zero, shortest = f32x4.splat(3.4e38), lowest = f32x4.splat(NaN);
    for (let k = 0; k < frames; k++) {
      const p = (<usize>k) << 2;
      const x = v128.load(load<u32>(values + p) + o), c = v128.load(load<u32>(validities + p) + o);
      const t = v128.load32_splat(exposures + p);
      valid = f32x4.add(valid, c);
      sum = f32x4.add(sum, f32x4.mul(c, x));
      light = f32x4.add(light, f32x4.mul(c, t));
      const shorter = v128.and(f32x4.gt(c, zero), f32x4.lt(t, shortest));
      shortest = v128.bitselect(t, shortest, shorter);
      lowest = v128.bitselect(f32x4.div(x, t), lowest, shorter);
    }
    const known = f32x4.gt(valid, f32x4.splat(1e-4));
    const first = f32x4.max(f32x4.div(sum, f32x4.max(light, f32x4.splat(1e-30))), zero);
    let top = zero, weights = zero, best = zero, bestIndex = zero;
    for (let k = 0; k < frames; k++) {
      const p = (<usize>k) << 2;
      const x = v128.load(load<u32>(values + p) + o), c = v128.load(load<u32>(validities + p) + o);
      const t = v128.load32_splat(exposures + p);
      const variance = f32x4.add(f32x4.mul(f32x4.splat(shot), f32x4.mul(first, t)), f32x4.splat(readSquared));
      const w = f32x4.div(f32x4.mul(c, f32x4.mul(t, t)), variance);
      top = f32x4.add(top, f32x4.mul(w, f32x4.div(x, t)));
      weights = f32x4.add(weights, w);
      const leads = v128.bitselect(f32x4.gt(w, best), f32x4.eq(t, shortest), known);
      best = f32x4.max(w, best);
      bestIndex = v128.bitselect(f32x4.splat(<f32>k), bestIndex, leads);
    }
    const mean = f32x4.div(top, f32x4.max(weights, f32x4.splat(1e-30)));
    v128.store(dst + o, v128.bitselect(mean, lowest, known));
    if (dominant) {
      const index = i32x4.trunc_sat_f32x4_s(bestIndex);
      store<u8>(dominant + i, <u8>i32x4.extract_lane(index, 0));
      store<u8>(dominant + i + 1, <u8>i32x4.extract_lane(index, 1));
      store<u8>(dominant + i + 2, <u8>i32x4.extract_lane(index, 2));
      store<u8>(dominant + i + 3, <u8>i32x4.extract_lane(index, 3));
    }
  }
}
