/** What tells when a frame was taken. */
export interface Shot {
  fileName: string;
  camera: string | null;
  /** seconds since any start, or null */
  takenS: number | null;
}

/** "shot-9" before "shot-10", the same on every machine. */
const byName = new Intl.Collator("en", { numeric: true });
const compareNames = (a: Shot, b: Shot) => byName.compare(a.fileName, b.fileName) || (a.fileName < b.fileName ? -1 : a.fileName > b.fileName ? 1 : 0);

/**
 * The order in which frames were taken, whatever order they are given in: camera after camera by time, frames of one moment by name. Frames that note no time stand
 * where their names say, where names follow time; else behind the others by name.
 * @returns places in the list given
 */
export function shootingOrder(shots: Shot[]): number[] {
  const all = shots.map((_, i) => i);
  const named = [...all].sort((i, j) => compareNames(shots[i], shots[j]));
  const timed = named.filter((i) => shots[i].takenS !== null);
  const cameras = new Map<string | null, number>();
  for (const i of timed) {
    const { camera, takenS } = shots[i];
    cameras.set(camera, Math.min(takenS!, cameras.get(camera) ?? Infinity));
  }
  const taken = [...timed].sort((i, j) => {
    const [a, b] = [shots[i], shots[j]];
    if (a.camera !== b.camera) return cameras.get(a.camera)! - cameras.get(b.camera)! || compareNames(a, b);
    return a.takenS! - b.takenS! || compareNames(a, b);
  });
  if (timed.length === 0 || taken.every((i, k) => i === timed[k])) return named;
  return [...taken, ...named.filter((i) => shots[i].takenS === null)];
}
