/** What findings and remedies say: every kind, in one and in many, and never an id. */
import { finding, isFinding, type Finding, type Remedy } from "../document/finding";
import { FINDING_RECORDS, findingRecord, type FindingKind } from "../kinds/findings/records";
import { acceptedName, findingSentence, findingTitle, remedyName } from "./findings";

const of = { id: "cast-pin-2", place: null, share: 0, weight: 1, cause: "whiteBalance", remedy: null } as const;
const cast = finding("cast", { pin: 2, deltaE: 3.25, towards: "blue", from: "layer", by: "Look" }, of);
/** A finding of any kind that tells a number, or a word, everywhere. */
const any = (kind: FindingKind, number: number): Finding => {
  const values = Object.fromEntries(Object.entries(findingRecord(kind).values).map(([name, type]) => [name, type === "number" ? number : "other"]));
  return { ...of, kind, values } as unknown as Finding;
};

it.each(Object.keys(FINDING_RECORDS) as FindingKind[])("%s says something of one and of many", (kind) => {
  for (const number of [1, 3, 0.5]) {
    const found = any(kind, number);
    for (const text of [findingTitle(found), findingSentence(found)]) {
      expect(text.length).toBeGreaterThan(10);
      // nothing that was to be filled in is left, and nothing is filled in with nothing
      expect(text).not.toMatch(/[{}#]|undefined|NaN/);
    }
  }
});

it("plurals and figures are those of the language", () => {
  const clipped = (areas: number, share: number) => finding("clipped", { areas, share, red: 0.004, green: 0, blue: 0.01 }, of);
  expect(findingTitle(clipped(1, 0.1))).toBe("Clipped area");
  expect(findingTitle(clipped(12, 0.1))).toBe("12 clipped areas");
  expect(findingSentence(clipped(1, 0.0123))).toBe("1.23 % of the picture is at the top of the range (R 0.40 %, G 0.00 %, B 1.00 %, lights included).");
  const halo = (others: number, brighter: string) => findingSentence(finding("halo", { layer: "Reeds", ev: 0.84, brighter, others }, of));
  expect(halo(0, "yes")).toMatch(/^0\.8 EV brighter than both of its sides\. Paint/);
  expect(halo(1, "no")).toMatch(/^0\.8 EV darker than both of its sides, and at 1 more place\. Paint/);
  expect(halo(4, "no")).toMatch(/, and at 4 more places\. Paint/);
});

it("what was accepted is named as it was found, else by its kind, never by an id", () => {
  expect(acceptedName("cast-pin-2", [cast])).toBe("Cast at neutral pin 2");
  expect(acceptedName("cast-pin-9f3", [cast])).toBe("Colour cast");
  expect(acceptedName("kind:emptyBorder", [])).toBe("Uncovered border, all of them");
  expect(acceptedName("constructor-1", null)).toBe("A finding that is gone");
});

it("a remedy says what it does and by how much", () => {
  const cases: [Remedy, string][] = [
    [{ kind: "setFinish", step: "exposure", values: { ev: -0.4 }, by: -0.42 }, "Lower the exposure by 0.4 EV"],
    [{ kind: "setFinish", step: "toneResponse", values: { headroomEv: 5 }, by: 1 }, "Raise the white point by 1.0 EV"],
    [{ kind: "setFinish", step: "whiteBalance", values: { mired: -12 }, by: -12.4 }, "Take \u221212 mired"],
    [{ kind: "changeLayer", layerId: "l", name: "Reeds", change: { visible: false } }, 'Hide "Reeds"'],
    [{ kind: "changeLayer", layerId: "l", name: "Reeds", change: { clipped: true } }, "Only on the layer below"],
    [{ kind: "changeTarget", change: { blackPoint: true } }, "Bring black to the paper's black"],
    [{ kind: "changeMask", layerId: "l", change: { refinePx: 12 } }, "Let the mask follow edges within 12 px"],
    [{ kind: "changeMask", layerId: "l", change: { base: 0 } }, "Begin the mask concealed"],
    [{ kind: "changeMask", layerId: "l", change: { inverted: false } }, "Do not invert the mask"],
  ];
  for (const [remedy, text] of cases) expect(remedyName(remedy)).toBe(text);
});

it("what was stored is a finding only where all that it tells is there", () => {
  expect(isFinding(JSON.parse(JSON.stringify(cast)))).toBe(true);
  const bad: object[] = [
    { ...cast, kind: "virus" },
    { ...cast, values: { pin: 2, towards: "blue" } },
    { ...cast, values: { ...cast.values, deltaE: "much" } },
    { ...cast, cause: "fate" },
    { ...cast, place: { x: 1 } },
    { ...cast, remedy: { kind: "burn" } },
    { ...cast, weight: Number.NaN },
    // as it was stored before findings were told by codes
    { id: "clipped", kind: "clipped", title: "Clipped area", sentence: "", place: null, share: 0, weight: 1, cause: "Merge", remedy: null, harmless: false },
  ];
  for (const value of [null, 7, "cast", ...bad]) expect(isFinding(value)).toBe(false);
});
