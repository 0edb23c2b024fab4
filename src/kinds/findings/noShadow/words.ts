import type { FindingWords } from "../wording";

export const noShadow: FindingWords = {
  name: "Shadow missing",
  title: '"{layer}" throws no shadow',
  sentence: "The plate's light has a direction, and what stands in it throws shadows. Lay its shadow under Compose, Seat.",
};
