/**
 * log2, exp2, pow, sine and cosine from additions and multiplications only. Pixel results must be equal in every host, and a
 * host's own Math.pow or Math.sin may differ in its last digit between versions. Relative error below 1e-14, tested against Math.
 */
const LN2 = 0.6931471805599453;
const bits = new DataView(new ArrayBuffer(8));

/** @param x positive, normal double */
export function log2(x: number): number {
  if (!(x > 0)) return x === 0 ? -Infinity : NaN;
  bits.setFloat64(0, x);
  let exponent = ((bits.getUint32(0) >>> 20) & 0x7ff) - 1023;
  bits.setUint32(0, (bits.getUint32(0) & 0x000fffff) | 0x3ff00000);
  let mantissa = bits.getFloat64(0);
  if (mantissa > Math.SQRT2) {
    mantissa /= 2;
    exponent += 1;
  }
  // ln m = 2 artanh((m-1)/(m+1))
  const z = (mantissa - 1) / (mantissa + 1);
  const z2 = z * z;
  let sum = 0;
  for (let k = 25; k >= 1; k -= 2) sum = sum * z2 + 1 / k;
  return exponent + (2 * z * sum) / LN2;
}

/** 2 to the power x. */
export function exp2(x: number): number {
  if (x > 1023) return Infinity;
  if (x < -1020) return 0;
  const whole = Math.round(x);
  const f = (x - whole) * LN2;
  let sum = 1;
  for (let k = 16; k >= 1; k--) sum = 1 + (f / k) * sum;
  bits.setUint32(0, (whole + 1023) << 20);
  bits.setUint32(4, 0);
  return sum * bits.getFloat64(0);
}

/** @param base not negative */
export function pow(base: number, exponent: number): number {
  return base === 0 ? 0 : exp2(exponent * log2(base));
}

/** Sine of an angle in radians, |angle| up to 100. */
export function sine(angleRad: number): number {
  const turns = Math.round(angleRad / Math.PI);
  const x = angleRad - turns * Math.PI;
  const x2 = x * x;
  let sum = 1;
  for (let k = 12; k >= 1; k--) sum = 1 - (x2 / (2 * k * (2 * k + 1))) * sum;
  return (turns % 2 === 0 ? 1 : -1) * x * sum;
}

/** Cosine of an angle in radians, |angle| up to 100. */
export function cosine(angleRad: number): number {
  const turns = Math.round(angleRad / Math.PI);
  const x = angleRad - turns * Math.PI;
  const x2 = x * x;
  let sum = 1;
  for (let k = 12; k >= 1; k--) sum = 1 - (x2 / (2 * k * (2 * k - 1))) * sum;
  return (turns % 2 === 0 ? 1 : -1) * sum;
}
