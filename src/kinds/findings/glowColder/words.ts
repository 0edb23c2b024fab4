import type { FindingWords } from "../wording";

export const glowColder: FindingWords = {
  name: "Glow colder than its lamp",
  title: '"{layer}" is bluer than the lamp it surrounds',
  sentence:
    "Blue against red it is {ev, number, ::.0} EV stronger than in what shines there. Give the lamp the colour that the picture shows, under Compose, Seat.",
};
