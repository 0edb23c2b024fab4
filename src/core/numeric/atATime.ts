/** Results of several pieces of work, of which so many are under way at a time. */
export async function atATime<T>(work: (() => Promise<T> | T)[], most: number): Promise<T[]> {
  const results: T[] = [];
  let next = 0;
  const go = async () => {
    while (next < work.length) {
      const i = next++;
      results[i] = await work[i]();
    }
  };
  await Promise.all(Array.from({ length: Math.max(1, most) }, go));
  return results;
}
