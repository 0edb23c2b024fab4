import type { FindingWords } from "../wording";

export const bowedHorizon: FindingWords = {
  name: "Bowed horizon",
  title: "The horizon is bowed",
  sentence:
    "By {px, number, ::.} px over {over, number, ::.} px. A pitch of 0° with a cylindrical projection, or a rectilinear one, keeps it straight; so does bending the border less.",
};
