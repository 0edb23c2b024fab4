import type { FindingWords } from "../wording";

export const cast: FindingWords = {
  name: "Colour cast",
  title: "Cast at neutral pin {pin}",
  sentence:
    'It reads {deltaE, number, ::.0} ΔE from neutral, towards {towards}{from, select, layer {, taken there by "{by}"} other {}}. Mend it along its thing under Finish, or say there that it may be so.',
};
