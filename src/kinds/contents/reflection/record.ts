import { array } from "yup";
import { finite, id } from "../../../document/records/fields";
import type { ContentRecord } from "../fields";

/** What a seated layer shows, mirrored in water of the plate, in place of what that mirrors of the sky. */
export interface ReflectionContent {
  type: "reflection";
  layerId: string;
  /** the water, a surface of the plate */
  surfaceId: string;
  /** of its ripples, RMS */
  slope: number;
  /** light that the water mirrors where nothing stands: red, green, blue, linear */
  sky: number[];
}

export const [LEAST_SLOPE, MOST_SLOPE] = [0, 0.2];

export const reflection: ContentRecord<ReflectionContent> = {
  fields: {
    layerId: id(),
    surfaceId: id(),
    slope: finite().min(LEAST_SLOPE).max(MOST_SLOPE),
    sky: array(finite().min(0).max(1000)).required().length(3),
  },
  reads: ({ layerId }) => ({ seatedId: layerId }),
};
