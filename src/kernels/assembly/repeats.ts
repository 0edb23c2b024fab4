import { storeIndex } from "./elementary";

// Combining repeated frames sample by sample: mean, median, mean of what lies near the median.

/** Batcher's odd-even merge sort for any number of items: byte offsets of the two vectors of each comparison, in order. Returns their number. */
function sortingPairs(count: i32, at: usize): i32 {
  let pairs = 0;
  for (let p = 1; p < count; p <<= 1) {
    for (let k = p; k >= 1; k >>= 1) {
      for (let j = k % p; j <= count - 1 - k; j += 2 * k) {
        for (let i = 0; i <= min(k - 1, count - j - k - 1); i++) {
          if ((i + j) / (2 * p) != (i + j + k) / (2 * p)) continue;
          store<u32>(at + ((<usize>pairs) << 3), (i + j) << 4);
          store<u32>(at + ((<usize>pairs) << 3), (i + j + k) << 4, 4);
          pairs++;
        }
      }
    }
  }
  // an even number, by comparing an item with itself
  if (pairs & 1) {
    store<u64>(at + ((<usize>pairs) << 3), 0);
    pairs++;
  }
  return pairs;
}

// @ts-ignore: decorator
@inline
function order(list: usize, pair: usize): void {
  const low = list + load<u32>(pair), high = list + load<u32>(pair, 4);
  const a = v128.load(low), b = v128.load(high);
  v128.store(low, f32x4.pmin(a, b));
  v128.store(high, f32x4.pmax(a, b));
}

/** Sorts four lists at once, ascending. */
// @ts-ignore: decorator
@inline
function sortLanes(list: usize, table: usize, pairs: i32): void {
  const end = table + ((<usize>pairs) << 3);
  for (let pair = table; pair < end; pair += 16) {
    order(list, pair);
    order(list, pair + 8);
  }
}

/** All four lanes at a fractional place of the sorted list. */
// @ts-ignore: decorator
@inline
function allAt(list: usize, place: f32): v128 {
  const p = list + ((<usize>(<i32>place)) << 4);
  const a = v128.load(p), t = place - <f32>(<i32>place);
  return t > 0 ? f32x4.add(a, f32x4.mul(f32x4.sub(v128.load(p + 16), a), f32x4.splat(t))) : a;
}

// @ts-ignore: decorator
@inline
function coveredAt(coverages: usize, k: i32, o: usize): v128 {
  return coverages ? f32x4.gt(v128.load(load<u32>(coverages + ((<usize>k) << 2)) + o), f32x4.splat(0)) : i32x4.splat(-1);
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
 * values, coverages: tables of `frames` pointers to f32 samples; coverages may be 0, every frame then covers every sample. mode 0: mean, 1: median, 2: mean of the samples within kappa standard
 * deviations of the median, the deviation taken from the middle two thirds of the samples and held between once and twice what the
 * noise model shot · x + readSquared says. nearest: u8 samples or 0, the frame that lies nearest. shares: table of `frames` pointers to
 * f32 samples, what each gave of the whole (of a median the nearest all), or 0. Samples y0 to y1, a multiple of 4;
 * scratch holds a vector a frame and the sorting pairs. Where nothing covers a sample the result is 0.
 */
export function combineRepeats(
  frames: i32, values: usize, coverages: usize, mode: i32, kappa: f32, shot: f32, readSquared: f32, dst: usize, nearest: usize, shares: usize,
  y0: i32, y1: i32, scratch: usize,
): void {
  const zero = f32x4.splat(0), high = f32x4.splat(3.0e38), one = f32x4.splat(1), every = f32x4.splat(<f32>frames);
  // an even number of vectors, the last of them out of reach
  const listEnd = scratch + ((<usize>((frames + 1) & ~1)) << 4);
  v128.store(listEnd - 16, high);
  const table = listEnd;
  const pairs = mode == 0 ? 0 : sortingPairs(frames, table);
  const last = <f32>(frames - 1);
  for (let i = y0; i < y1; i += 4) {
    const o = (<usize>i) << 2;
    let sum = zero, count = zero;
    for (let k = 0; k < frames; k++) {
      const p = (<usize>k) << 2;
      const x = v128.load(load<u32>(values + p) + o), on = coveredAt(coverages, k, o);
      sum = f32x4.add(sum, v128.and(x, on));
      count = f32x4.add(count, v128.and(one, on));
      v128.store(scratch + ((<usize>k) << 4), v128.bitselect(x, high, on));
    }
    let result = f32x4.div(sum, f32x4.pmax(count, one));
    let centre = result, width = high, given = count;
    if (mode != 0) {
      sortLanes(scratch, table, pairs);
      let middle: v128, half: v128;
      if (i32x4.all_true(f32x4.eq(count, every))) {
        middle = allAt(scratch, last * 0.5);
        half = f32x4.mul(f32x4.sub(allAt(scratch, last * 0.8333), allAt(scratch, last * 0.1667)), f32x4.splat(0.5));
      } else {
        // each lane has a list of its own length
        const own = table + ((<usize>pairs) << 3);
        for (let lane: usize = 0; lane < 4; lane++) {
          const n = max(lane == 0 ? f32x4.extract_lane(count, 0) : lane == 1 ? f32x4.extract_lane(count, 1) : lane == 2 ? f32x4.extract_lane(count, 2) : f32x4.extract_lane(count, 3), 1);
          store<f32>(own + (lane << 2), laneAt(scratch, lane, (n - 1) * 0.5));
          store<f32>(own + (lane << 2), (laneAt(scratch, lane, (n - 1) * 0.8333) - laneAt(scratch, lane, (n - 1) * 0.1667)) * 0.5, 16);
        }
        const some = f32x4.gt(count, zero);
        middle = v128.and(v128.load(own), some);
        half = v128.and(v128.load(own, 16), some);
      }
      // the middle two thirds of a normal distribution reach 0.967 sigma to either side
      const sigma = f32x4.mul(half, f32x4.splat(1.0 / 0.967));
      const model = f32x4.sqrt(f32x4.add(f32x4.mul(f32x4.splat(shot), f32x4.pmax(middle, zero)), f32x4.splat(readSquared)));
      width = f32x4.mul(f32x4.pmin(f32x4.pmax(sigma, model), f32x4.add(model, model)), f32x4.splat(kappa));
      result = middle;
      // about the median first, then about the mean so found, which lies nearer; what is not covered is too far off to count
      for (let pass = 0; mode == 2 && pass < 2; pass++) {
        let inliers = zero, counted = i32x4.splat(0);
        centre = result;
        for (let at = scratch; at < listEnd; at += 32) {
          const x = v128.load(at), y = v128.load(at, 16);
          const nearX = f32x4.le(f32x4.abs(f32x4.sub(x, centre)), width), nearY = f32x4.le(f32x4.abs(f32x4.sub(y, centre)), width);
          inliers = f32x4.add(inliers, f32x4.add(v128.and(x, nearX), v128.and(y, nearY)));
          // a mask is -1
          counted = i32x4.sub(counted, i32x4.add(nearX, nearY));
        }
        const weight = f32x4.convert_i32x4_s(counted);
        result = v128.bitselect(f32x4.div(inliers, f32x4.pmax(weight, one)), result, f32x4.gt(weight, zero));
        given = weight;
      }
    }
    v128.store(dst + o, result);
    if (nearest) {
      let least = high, index = zero;
      for (let k = 0; k < frames; k++) {
        const p = (<usize>k) << 2;
        const x = v128.load(load<u32>(values + p) + o), on = coveredAt(coverages, k, o);
        const away = v128.bitselect(f32x4.abs(f32x4.sub(x, result)), high, on);
        const closer = f32x4.lt(away, least);
        least = v128.bitselect(away, least, closer);
        index = v128.bitselect(f32x4.splat(<f32>k), index, closer);
      }
      if (shares) {
        for (let k = 0; k < frames; k++) {
          const p = (<usize>k) << 2;
          const x = v128.load(load<u32>(values + p) + o), on = coveredAt(coverages, k, o);
          const near = f32x4.le(f32x4.abs(f32x4.sub(x, centre)), width);
          const part = f32x4.div(one, f32x4.pmax(given, one));
          // of a median, and where all lie too far off, the nearest gives all
          const whole = v128.and(one, f32x4.eq(index, f32x4.splat(<f32>k)));
          const took = mode == 1 ? whole : v128.bitselect(v128.and(part, near), whole, f32x4.gt(given, zero));
          v128.store(load<u32>(shares + p) + o, v128.and(took, on));
        }
      }
      storeIndex(index, nearest + i);
    }
  }
}
