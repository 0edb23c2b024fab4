/** Finds how many of the lowest layers stay as they are while others change: what those make together is worth keeping while one above is worked on. */
export class StableLayers {
  private before: string[] = [];
  private latest = 0;

  /** @param names of the layers from the bottom, other names for other content; the first stands for what they lie on */
  count(names: string[]): number {
    let same = 0;
    while (same < names.length && names[same] === this.before[same]) same++;
    if (same === names.length && same === this.before.length) return this.latest;
    this.before = names;
    this.latest = Math.max(0, same - 1);
    return this.latest;
  }
}
