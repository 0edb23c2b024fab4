import { frameNumber } from "../../../document/selectors";
import { signed } from "../../../ui/format";
import { numberText } from "../../../words/numbers";
import type { ContentWords } from "../wording";
import { UNMOVED, type FrameContent } from "./record";

export const frame: ContentWords<FrameContent> = {
  word: ({ frameId, exposureEv, cut, light }, _layer, records) =>
    `${cut ? "cut out of frame" : light ? "light of frame" : "frame"} ${frameNumber(records, frameId)}, ${exposureEv ? `${signed(exposureEv, 1)} EV` : "as shot"}`,
  values: ({ exposureEv, moved }) => {
    const { dx, dy, angleDeg, scale } = moved ?? UNMOVED;
    return {
      exposure: `${numberText(exposureEv, 2)} EV`,
      moved: `${numberText(dx, 1)}, ${numberText(dy, 1)} px, ${numberText(angleDeg, 2)}°, ${numberText(100 * scale, 1)} %`,
    };
  },
};
