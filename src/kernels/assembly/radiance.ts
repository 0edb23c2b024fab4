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

/** Largest channel of each sample. Samples y0 to y1, multiple of 4. */
export function largestChannel(r: usize, g: usize, b: usize, top: usize, y0: i32, y1: i32, scratch: usize): void {
  for (let i = y0; i < y1; i += 4) {
    const o = (<usize>i) << 2;
    v128.store(top + o, f32x4.max(f32x4.max(v128.load(r + o), v128.load(g + o)), v128.load(b + o)));
  }
}

/**
 * validity = coverage · (how far the largest channel of the sample and its eight neighbours is from clipping, and a trace so that
 * covered samples can be told). One validity for all channels: were each judged alone, a fraction of a pixel of misfit would colour
 * bright edges; and the neighbours count because what was resampled next to a clipped sample has lost light in the clipped channel.
 * around: 1, or 0 for a frame that was not resampled, whose samples are judged by themselves. top: from largestChannel, rows of w
 * samples. Rows y0 to y1; the border is repeated.
 */
export function judgeRows(top: usize, w: i32, h: i32, around: i32, coverage: usize, y0: i32, y1: i32, scratch: usize): void {
  for (let y = y0; y < y1; y++) {
    const here = top + ((<usize>(y * w)) << 2);
    const row = (<usize>w) << 2;
    const above = around && y > 0 ? here - row : here, below = around && y + 1 < h ? here + row : here;
    const side: usize = around ? 4 : 0;
    // column maxima of the three rows, with one repeated at either end
    for (let x = 0; x < w; x += 4) {
      const o = (<usize>x) << 2;
      v128.store(scratch + 4 + o, f32x4.max(f32x4.max(v128.load(above + o), v128.load(here + o)), v128.load(below + o)));
    }
    store<f32>(scratch, load<f32>(scratch + 4));
    store<f32>(scratch + ((<usize>(w + 1)) << 2), load<f32>(scratch + ((<usize>w) << 2)));
    const out = coverage + ((<usize>(y * w)) << 2);
    let x = 0;
    for (; x + 4 <= w; x += 4) {
      const o = (<usize>x) << 2;
      const here4 = scratch + 4 + o;
      const most = f32x4.max(f32x4.max(v128.load(here4 - side), v128.load(here4)), v128.load(here4 + side));
      v128.store(out + o, f32x4.mul(v128.load(out + o), f32x4.add(unclipped(most), f32x4.splat(1e-7))));
    }
    for (; x < w; x++) {
      const o = (<usize>x) << 2;
      const at = scratch + 4 + o;
      const most = max(max(load<f32>(at - side), load<f32>(at)), load<f32>(at + side));
      store<f32>(out + o, load<f32>(out + o) * (f32x4.extract_lane(unclipped(f32x4.splat(most)), 0) + 1e-7));
    }
  }
}

/**
 * values, validities: tables of `frames` pointers to f32 samples (linear 0..1; from judgeRows). exposures: f32 each, 2^EV
 * against the reference. shot, readSquared: variance = shot · x + readSquared. dominant: u8 samples or 0. shares: table of
 * `frames` pointers to f32 samples, what each gave of the whole, or 0. Samples y0 to y1,
 * multiple of 4. Where nothing covers a sample the result is NaN. Where every frame clips, the shortest covered exposure is used.
 */
export function mergeRadiance(
  frames: i32, values: usize, validities: usize, exposures: usize, shot: f32, readSquared: f32,
  dst: usize, dominant: usize, shares: usize, y0: i32, y1: i32, scratch: usize,
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
      if (shares) {
        const alone = v128.and(f32x4.splat(1), v128.and(f32x4.gt(c, zero), f32x4.eq(t, shortest)));
        v128.store(load<u32>(shares + p) + o, v128.bitselect(w, alone, known));
      }
      const leads = v128.bitselect(f32x4.gt(w, best), f32x4.eq(t, shortest), known);
      best = f32x4.max(w, best);
      bestIndex = v128.bitselect(f32x4.splat(<f32>k), bestIndex, leads);
    }
    const mean = f32x4.div(top, f32x4.max(weights, f32x4.splat(1e-30)));
    v128.store(dst + o, v128.bitselect(mean, lowest, known));
    if (shares) {
      const whole = v128.bitselect(f32x4.max(weights, f32x4.splat(1e-30)), f32x4.splat(1), known);
      for (let k = 0; k < frames; k++) {
        const at = load<u32>(shares + ((<usize>k) << 2)) + o;
        v128.store(at, f32x4.div(v128.load(at), whole));
      }
    }
    if (dominant) {
      const index = i32x4.trunc_sat_f32x4_s(bestIndex);
      store<u8>(dominant + i, <u8>i32x4.extract_lane(index, 0));
      store<u8>(dominant + i + 1, <u8>i32x4.extract_lane(index, 1));
      store<u8>(dominant + i + 2, <u8>i32x4.extract_lane(index, 2));
      store<u8>(dominant + i + 3, <u8>i32x4.extract_lane(index, 3));
    }
  }
}
