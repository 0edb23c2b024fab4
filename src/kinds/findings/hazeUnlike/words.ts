import type { FindingWords } from "../wording";

export const hazeUnlike: FindingWords = {
  name: "Haze missing",
  title: '"{layer}" stands in no haze',
  sentence:
    "From {distanceM, number, ::.} m its black is {ev, number, ::.0} EV deeper than the plate's air lets it look. Lay its haze on it under Compose, Seat.",
};
