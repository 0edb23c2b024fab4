import { constant, storeIndex } from "./elementary";

// Weighted mean of exposure-normalised frames, one channel. The weight is the inverse variance of the radiance estimate under
// shot and read noise (Granados et al. 2010, equations 3 to 6; form recalled from memory), taken at a common first estimate so
// that a frame's own noise does not steer its weight.

/** Where clipping is complete, 1 / (that less where it begins), 1, 3 */
const SHOULDER = memory.data<f32>([0.985, 11.7647059, 1, 3]);

// @ts-ignore: decorator
@inline
function unclipped(x: v128): v128 {
  // 1 below 0.90, 0 above 0.985, smooth between
  const t = f32x4.pmin(f32x4.pmax(f32x4.mul(f32x4.sub(constant(SHOULDER, 0), x), constant(SHOULDER, 1)), f32x4.splat(0)), constant(SHOULDER, 2));
  return f32x4.mul(f32x4.mul(t, t), f32x4.sub(constant(SHOULDER, 3), f32x4.add(t, t)));
}

/** Largest channel of four samples. */
// @ts-ignore: decorator
@inline
function largest(r: usize, g: usize, b: usize, o: usize): v128 {
  return f32x4.pmax(f32x4.pmax(v128.load(r + o), v128.load(g + o)), v128.load(b + o));
}

/**
 * validity = coverage · (how far the largest channel of the sample and its eight neighbours is from clipping, and a trace so that
 * covered samples can be told). One validity for all channels: were each judged alone, a fraction of a pixel of misfit would colour
 * bright edges; and the neighbours count because what was resampled next to a clipped sample has lost light in the clipped channel.
 * around: 1, or 0 for a frame that was not resampled, whose samples are judged by themselves. r, g, b: rows of w samples. Rows y0
 * to y1; the border is repeated.
 */
export function judgeRows(r: usize, g: usize, b: usize, w: i32, h: i32, around: i32, coverage: usize, y0: i32, y1: i32, scratch: usize): void {
  const trace = f32x4.splat(1e-7);
  for (let y = y0; y < y1; y++) {
    const row = (<usize>w) << 2, here = <usize>y * row;
    const above = around && y > 0 ? here - row : here, below = around && y + 1 < h ? here + row : here;
    const side: usize = around ? 4 : 0;
    // column maxima of the three rows, with one repeated at either end
    for (let x = 0; x < w; x += 4) {
      const o = (<usize>x) << 2;
      let most = largest(r, g, b, here + o);
      if (around) most = f32x4.pmax(most, f32x4.pmax(largest(r, g, b, above + o), largest(r, g, b, below + o)));
      v128.store(scratch + 4 + o, most);
    }
    store<f32>(scratch, load<f32>(scratch + 4));
    store<f32>(scratch + ((<usize>(w + 1)) << 2), load<f32>(scratch + ((<usize>w) << 2)));
    const out = coverage + here;
    let x = 0;
    for (; x + 4 <= w; x += 4) {
      const o = (<usize>x) << 2;
      const here4 = scratch + 4 + o;
      const most = f32x4.pmax(f32x4.pmax(v128.load(here4 - side), v128.load(here4)), v128.load(here4 + side));
      v128.store(out + o, f32x4.mul(v128.load(out + o), f32x4.add(unclipped(most), trace)));
    }
    for (; x < w; x++) {
      const o = (<usize>x) << 2;
      const at = scratch + 4 + o;
      const most = max(max(load<f32>(at - side), load<f32>(at)), load<f32>(at + side));
      store<f32>(out + o, load<f32>(out + o) * (f32x4.extract_lane(unclipped(f32x4.splat(most)), 0) + 1e-7));
    }
  }
}

/** Times the shortest exposure from which one is longer: 0.26 EV. */
const LONGER: f32 = 1.2;

/** Least divisor, 1, least validity */
const LEAST = memory.data<f32>([1e-30, 1, 1e-4]);

/**
 * values: table of pointers to f32 samples, r, g, b of each frame (linear 0..1). validities: table of a pointer a frame (from
 * judgeRows). exposures: f32 each, 2^EV against the reference. shot, readSquared: variance = shot · x + readSquared. r, g, b: the
 * radiance. dominant: u8 samples, the frame that gives most of green. shares: table of pointers to f32 samples, what each frame gave
 * of the whole of green. Samples y0 to y1, multiple of 4. Where nothing covers a sample the result is NaN. Where every frame clips,
 * the shortest exposure is used; along a border that it does not cover a longer one, clipped at less, says nothing of the light: nobody gives it (255), and
 * it is grey, since the frame's colour is that of its clipping.
 */
export function mergeRadiance(
  frames: i32, values: usize, validities: usize, exposures: usize, shot: f32, readSquared: f32,
  r: usize, g: usize, b: usize, dominant: usize, shares: usize, y0: i32, y1: i32, scratch: usize,
): void {
  const zero = f32x4.splat(0), tiny = constant(LEAST, 0), one = constant(LEAST, 1), enough = constant(LEAST, 2);
  const shots = f32x4.splat(shot), read = f32x4.splat(readSquared);
  let least = <f32>3.4e38;
  for (let k = 0; k < frames; k++) least = min(least, load<f32>(exposures + ((<usize>k) << 2)));
  const longer = f32x4.splat(least * LONGER);
  for (let i = y0; i < y1; i += 4) {
    const o = (<usize>i) << 2;
    let sumR = zero, sumG = zero, sumB = zero, light = zero, valid = zero;
    for (let k = 0; k < frames; k++) {
      const p = (<usize>k) << 2, q = values + p * 3;
      const c = v128.load(load<u32>(validities + p) + o), t = v128.load32_splat(exposures + p);
      valid = f32x4.add(valid, c);
      light = f32x4.add(light, f32x4.mul(c, t));
      sumR = f32x4.add(sumR, f32x4.mul(c, v128.load(load<u32>(q) + o)));
      sumG = f32x4.add(sumG, f32x4.mul(c, v128.load(load<u32>(q, 4) + o)));
      sumB = f32x4.add(sumB, f32x4.mul(c, v128.load(load<u32>(q, 8) + o)));
    }
    const known = f32x4.gt(valid, enough);
    const per = f32x4.div(shots, f32x4.pmax(light, tiny));
    const firstR = f32x4.pmax(f32x4.mul(sumR, per), zero), firstG = f32x4.pmax(f32x4.mul(sumG, per), zero), firstB = f32x4.pmax(f32x4.mul(sumB, per), zero);
    let topR = zero, topG = zero, topB = zero, allR = zero, allG = zero, allB = zero, best = zero, bestIndex = zero;
    for (let k = 0; k < frames; k++) {
      const p = (<usize>k) << 2, q = values + p * 3;
      const t = v128.load32_splat(exposures + p);
      const c = f32x4.mul(v128.load(load<u32>(validities + p) + o), t);
      // weight · value / t, with the weight c · t² / variance
      const overR = f32x4.div(c, f32x4.add(f32x4.mul(firstR, t), read));
      const overG = f32x4.div(c, f32x4.add(f32x4.mul(firstG, t), read));
      const overB = f32x4.div(c, f32x4.add(f32x4.mul(firstB, t), read));
      topR = f32x4.add(topR, f32x4.mul(overR, v128.load(load<u32>(q) + o)));
      topG = f32x4.add(topG, f32x4.mul(overG, v128.load(load<u32>(q, 4) + o)));
      topB = f32x4.add(topB, f32x4.mul(overB, v128.load(load<u32>(q, 8) + o)));
      allR = f32x4.add(allR, f32x4.mul(overR, t));
      allB = f32x4.add(allB, f32x4.mul(overB, t));
      const weight = f32x4.mul(overG, t);
      allG = f32x4.add(allG, weight);
      v128.store(load<u32>(shares + p) + o, weight);
      bestIndex = v128.bitselect(f32x4.splat(<f32>k), bestIndex, f32x4.gt(weight, best));
      best = f32x4.pmax(weight, best);
    }
    let red = f32x4.div(topR, f32x4.pmax(allR, tiny)), green = f32x4.div(topG, f32x4.pmax(allG, tiny)), blue = f32x4.div(topB, f32x4.pmax(allB, tiny));
    const part = f32x4.div(one, f32x4.pmax(allG, tiny));
    if (i32x4.all_true(known)) {
      for (let k = 0; k < frames; k++) {
        const at = load<u32>(shares + ((<usize>k) << 2)) + o;
        v128.store(at, f32x4.mul(v128.load(at), part));
      }
    } else {
      let shortest = f32x4.splat(3.4e38), lowR = f32x4.splat(NaN), lowG = lowR, lowB = lowR, lowIndex = zero;
      for (let k = 0; k < frames; k++) {
        const p = (<usize>k) << 2, q = values + p * 3;
        const t = v128.load32_splat(exposures + p);
        const shorter = v128.and(f32x4.gt(v128.load(load<u32>(validities + p) + o), zero), f32x4.lt(t, shortest));
        shortest = v128.bitselect(t, shortest, shorter);
        lowR = v128.bitselect(f32x4.div(v128.load(load<u32>(q) + o), t), lowR, shorter);
        lowG = v128.bitselect(f32x4.div(v128.load(load<u32>(q, 4) + o), t), lowG, shorter);
        lowB = v128.bitselect(f32x4.div(v128.load(load<u32>(q, 8) + o), t), lowB, shorter);
        lowIndex = v128.bitselect(f32x4.splat(<f32>k), lowIndex, shorter);
      }
      const burnt = v128.and(f32x4.gt(shortest, longer), f32x4.lt(shortest, f32x4.splat(3.0e38)));
      const grey = f32x4.pmax(f32x4.pmax(lowR, lowG), lowB);
      lowR = v128.bitselect(grey, lowR, burnt);
      lowG = v128.bitselect(grey, lowG, burnt);
      lowB = v128.bitselect(grey, lowB, burnt);
      red = v128.bitselect(red, lowR, known);
      green = v128.bitselect(green, lowG, known);
      blue = v128.bitselect(blue, lowB, known);
      bestIndex = v128.bitselect(bestIndex, v128.bitselect(f32x4.splat(255), lowIndex, burnt), known);
      for (let k = 0; k < frames; k++) {
        const p = (<usize>k) << 2;
        const at = load<u32>(shares + p) + o;
        const alone = v128.and(v128.and(one, f32x4.eq(lowIndex, f32x4.splat(<f32>k))), f32x4.gt(v128.load(load<u32>(validities + p) + o), zero));
        const gave = v128.andnot(alone, burnt);
        v128.store(at, v128.bitselect(f32x4.mul(v128.load(at), part), gave, known));
      }
    }
    v128.store(r + o, red);
    v128.store(g + o, green);
    v128.store(b + o, blue);
    storeIndex(bestIndex, dominant + i);
  }
}
