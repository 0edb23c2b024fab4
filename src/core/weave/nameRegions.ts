/** Where a region lies, shares of the picture. */
export interface RegionPlace {
  across: number;
  middle: number;
  spans: number;
}

const third = (v: number, names: readonly [string, string, string]) => names[v < 0.36 ? 0 : v > 0.64 ? 2 : 1];

/** Names by place, numbered where two would be the same; people give their own. */
export function nameRegions(places: RegionPlace[]): string[] {
  const plain = places.map(({ across, middle, spans }) => {
    const height = third(middle, ["Top", "Middle", "Bottom"]);
    return spans > 0.8 ? `${height}, all across` : `${height} ${third(across, ["left", "centre", "right"])}`;
  });
  const seen = new Map<string, number>();
  return plain.map((name) => {
    const k = (seen.get(name) ?? 0) + 1;
    seen.set(name, k);
    return plain.filter((n) => n === name).length > 1 ? `${name} ${k}` : name;
  });
}
