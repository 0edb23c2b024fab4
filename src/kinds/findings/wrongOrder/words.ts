import type { FindingWords } from "../wording";

export const wrongOrder: FindingWords = {
  name: "Wrong order",
  title: '"{over}" covers "{layer}", which stands nearer',
  sentence: "It stands {metres, number, ::.0} m nearer and is covered all the same. Move its layer over the other one's.",
};
