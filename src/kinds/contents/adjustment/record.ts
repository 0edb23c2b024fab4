import { string } from "yup";
import { numbers } from "../../../document/records/fields";
import { adjustmentReach, isAdjustment, readsAll, valuesOfKind, type Adjustment } from "../../adjustments/records";
import { ANY_SIZE, type ContentRecord } from "../fields";

/** Values by name. @see kinds/adjustments */
export interface AdjustmentContent {
  type: "adjustment";
  adjustment: Adjustment;
  values: Record<string, number>;
}

/** They work on single pixels even where no size is set. */
const OF_SINGLE_PX: Adjustment[] = ["sharpen", "highPass", "noise"];

export const adjustment: ContentRecord<AdjustmentContent> = {
  fields: { adjustment: string().required().test("adjustment", "${path} is no known adjustment", isAdjustment), values: numbers() },
  isSound: (content) => {
    const known = isAdjustment(content.adjustment) ? valuesOfKind(content.adjustment) : {};
    return Object.entries(content.values ?? {}).every(([name, v]) => known[name] && v >= known[name].min && v <= known[name].max);
  },
  reach: (content, level) => adjustmentReach(content.adjustment, content.values, level),
  reads: (content) => ({ below: readsAll(content.adjustment, content.values) }),
  finestPx: ({ adjustment: kind, values }) => {
    const sizes = Object.entries(values).flatMap(([name, value]) => (name.endsWith("Px") && value > 0 ? [value] : []));
    return Math.min(...sizes, OF_SINGLE_PX.includes(kind) ? 1 : ANY_SIZE);
  },
};
