import { sunByDate, type Whereabouts } from "./sunByDate";

const PUBLISHED: Whereabouts = { clock: "2003-10-17T12:30:30", overUtcH: -7, latitudeDeg: 39.742476, longitudeDeg: -105.1786, headingDeg: 0 };

describe("the sun by date and place", () => {
  test("stands where the published example has it", () => {
    // Reda and Andreas 2003, "Solar position algorithm for solar radiation applications", table A5.1; from memory
    const sun = sunByDate(PUBLISHED)!;
    expect(sun.azimuthDeg + 360).toBeCloseTo(194.34024, 1);
    expect(sun.elevationDeg).toBeCloseTo(90 - 50.11162, 1);
  });

  test("is told from where the camera looks", () => {
    const ahead = sunByDate({ ...PUBLISHED, headingDeg: 194.34 })!;
    expect(ahead.azimuthDeg).toBeCloseTo(0, 1);
    expect(sunByDate({ ...PUBLISHED, headingDeg: 104.34 })!.azimuthDeg).toBeCloseTo(90, 1);
  });

  test("goes under at night", () => {
    expect(sunByDate({ ...PUBLISHED, clock: "2003-10-17T23:30" })!.elevationDeg).toBeLessThan(-30);
  });

  test("is not told by a clock that shows nothing", () => {
    expect(sunByDate({ ...PUBLISHED, clock: "" })).toBeNull();
  });
});
