import { acceptedName, type Finding } from "./finding";

const finding: Finding = {
  id: "cast-pin-2",
  kind: "cast",
  title: "Cast at neutral pin 2",
  sentence: "",
  place: null,
  share: 0,
  weight: 1,
  cause: "",
  remedy: null,
  harmless: false,
};

it("what was accepted is named as it was found, else by its kind, never by an id", () => {
  expect(acceptedName("cast-pin-2", [finding])).toBe("Cast at neutral pin 2");
  expect(acceptedName("cast-pin-9f3", [finding])).toBe("Colour cast");
  expect(acceptedName("kind:emptyBorder", [])).toBe("Uncovered border, all of them");
  expect(acceptedName("constructor-1", null)).toBe("A finding that is gone");
});
