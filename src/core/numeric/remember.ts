/** Makes a thing once of each object, for those that are never changed in place. */
export function remember<K extends object, V>(make: (of: K) => V): (of: K) => V {
  const made = new WeakMap<K, V>();
  return (of) => {
    const known = made.get(of);
    if (known !== undefined) return known;
    const value = make(of);
    made.set(of, value);
    return value;
  };
}
