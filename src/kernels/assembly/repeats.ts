// Combining repeated frames sample by sample: mean, median, mean of what lies near the median.

/** Sorts four lists at once, ascending: `count` vectors from `at`. */
// @ts-ignore: decorator
@inline
function sortLanes(at: usize, count: i32): void {
  for (let i = 1; i < count; i++) {
    for (let j = i; j > 0; j--) {
      const p = at + ((<usize>j) << 4);
      const a = v128.load(p - 16), b = v128.load(p);
      v128.store(p - 16, f32x4.min(a, b));
      v128.store(p, f32x4.max(a, b));
    }
  }
}

/** Value of one lane at a fractional place of the sorted list. */
// @ts-ignore: decorator
@inline
function laneAt(at: usize, lane: usize, place: f32): f32 {
  const k = <i32>place;
  const p = at + ((<usize>k) << 4) + (lane << 2);
  const a = load<f32>(p);
  const t = place - <f32>k;
  return t > 0 ? a + (load<f32>(p + 16) - a) * t : a;
}

/**
 * values, coverages: tables of `frames` pointers to f32 samples. mode 0: mean, 1: median, 2: mean of the samples within kappa standard
 * deviations of the median, the deviation taken from the middle two thirds of the samples and held between once and twice what the
 * noise model shot · x + readSquared says. nearest: u8 samples or 0, the frame that lies nearest. shares: table of `frames` pointers to
 * f32 samples, what each gave of the whole (of a median the nearest all), or 0. Samples y0 to y1, a multiple of 4;
 * scratch holds frames · 16 bytes. Where nothing covers a sample the result is 0.
 */
export function combineRepeats(
  frames: i32, values: usize, coverages: usize, mode: i32, kappa: f32, shot: f32, readSquared: f32, dst: usize, nearest: usize, shares: usize,
  y0: i32, y1: i32, scratch: usize,
): void {
  const zero = f32x4.splat(0), high = f32x4.splat(3.0e38);
  for (let i = y0; i < y1; i += 4) {
    const o = (<usize>i) << 2;
    let sum = zero, count = zero;
    for (let k = 0; k < frames; k++) {
      const p = (<usize>k) << 2;
      const x = v128.load(load<u32>(values + p) + o), on = f32x4.gt(v128.load(load<u32>(coverages + p) + o), zero);
      sum = f32x4.add(sum, v128.and(x, on));
      count = f32x4.add(count, v128.and(f32x4.splat(1), on));
      v128.store(scratch + ((<usize>k) << 4), v128.bitselect(x, high, on));
    }
    let result = f32x4.div(sum, f32x4.max(count, f32x4.splat(1)));
    let centre = result, width = high, given = count;
    if (mode != 0) {
      sortLanes(scratch, frames);
      let middle = zero;
      width = zero;
      for (let lane: usize = 0; lane < 4; lane++) {
        const n = lane == 0 ? f32x4.extract_lane(count, 0) : lane == 1 ? f32x4.extract_lane(count, 1) : lane == 2 ? f32x4.extract_lane(count, 2) : f32x4.extract_lane(count, 3);
        if (n < 1) continue;
        const m = laneAt(scratch, lane, (n - 1) * 0.5);
        const half = (laneAt(scratch, lane, (n - 1) * 0.8333) - laneAt(scratch, lane, (n - 1) * 0.1667)) * 0.5;
        // the middle two thirds of a normal distribution reach 0.967 sigma to either side
        let sigma = half / 0.967;
        const model = sqrt(shot * max(m, 0) + readSquared);
        sigma = min(max(sigma, model), model * 2) * kappa;
        if (lane == 0) { middle = f32x4.replace_lane(middle, 0, m); width = f32x4.replace_lane(width, 0, sigma); }
        else if (lane == 1) { middle = f32x4.replace_lane(middle, 1, m); width = f32x4.replace_lane(width, 1, sigma); }
        else if (lane == 2) { middle = f32x4.replace_lane(middle, 2, m); width = f32x4.replace_lane(width, 2, sigma); }
        else { middle = f32x4.replace_lane(middle, 3, m); width = f32x4.replace_lane(width, 3, sigma); }
      }
      result = middle;
      // about the median first, then about the mean so found, which lies nearer
      for (let pass = 0; mode == 2 && pass < 2; pass++) {
        let kept = zero, weight = zero;
        centre = result;
        for (let k = 0; k < frames; k++) {
          const p = (<usize>k) << 2;
          const x = v128.load(load<u32>(values + p) + o);
          const near = f32x4.le(f32x4.abs(f32x4.sub(x, result)), width);
          const on = v128.and(f32x4.gt(v128.load(load<u32>(coverages + p) + o), zero), near);
          kept = f32x4.add(kept, v128.and(x, on));
          weight = f32x4.add(weight, v128.and(f32x4.splat(1), on));
        }
        result = v128.bitselect(f32x4.div(kept, f32x4.max(weight, f32x4.splat(1))), result, f32x4.gt(weight, zero));
        given = weight;
      }
    }
    v128.store(dst + o, result);
    if (nearest) {
      let least = high, index = zero;
      for (let k = 0; k < frames; k++) {
        const p = (<usize>k) << 2;
        const x = v128.load(load<u32>(values + p) + o), on = f32x4.gt(v128.load(load<u32>(coverages + p) + o), zero);
        const away = v128.bitselect(f32x4.abs(f32x4.sub(x, result)), high, on);
        const closer = f32x4.lt(away, least);
        least = v128.bitselect(away, least, closer);
        index = v128.bitselect(f32x4.splat(<f32>k), index, closer);
      }
      if (shares) {
        for (let k = 0; k < frames; k++) {
          const p = (<usize>k) << 2;
          const x = v128.load(load<u32>(values + p) + o), on = f32x4.gt(v128.load(load<u32>(coverages + p) + o), zero);
          const near = f32x4.le(f32x4.abs(f32x4.sub(x, centre)), width);
          const part = f32x4.div(f32x4.splat(1), f32x4.max(given, f32x4.splat(1)));
          const took = mode == 1 ? v128.and(f32x4.splat(1), f32x4.eq(index, f32x4.splat(<f32>k))) : v128.and(part, near);
          v128.store(load<u32>(shares + p) + o, v128.and(took, on));
        }
      }
      const whole = i32x4.trunc_sat_f32x4_s(index);
      store<u8>(nearest + i, <u8>i32x4.extract_lane(whole, 0));
      store<u8>(nearest + i + 1, <u8>i32x4.extract_lane(whole, 1));
      store<u8>(nearest + i + 2, <u8>i32x4.extract_lane(whole, 2));
      store<u8>(nearest + i + 3, <u8>i32x4.extract_lane(whole, 3));
    }
  }
}
