import { PART_CONTROLS } from "./controls";
import { PART_RECORDS, type PartKind } from "./records";
import { PART_WORDS } from "./words";

const kinds = Object.keys(PART_RECORDS) as PartKind[];

it("every value of a part is called something and lies between its limits when it does nothing", () => {
  for (const kind of kinds) {
    const { values = {}, fields } = PART_RECORDS[kind];
    expect(Object.keys(PART_WORDS[kind].values).sort()).toEqual(Object.keys(values).sort());
    for (const [name, { neutral, min, max }] of Object.entries(values)) {
      expect(Object.keys(fields)).toContain(name);
      expect([neutral >= min, neutral <= max]).toEqual([true, true]);
    }
  }
});

it("a part that is drawn is shown where it lies", () => {
  for (const kind of kinds) expect(PART_CONTROLS[kind].drawn === undefined).toBe(PART_CONTROLS[kind].Outline === undefined);
});
