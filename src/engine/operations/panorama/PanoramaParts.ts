import type { EvenLight } from "../../../core/panorama/evenLight";
import type { PanoramaView } from "../../../core/panorama/layout";
import type { RasterFile } from "../../tiles/RasterStore";
import type { Projected } from "./projectFrame";

/** What a merge needs of a panorama beside the frames. */
export interface PanoramaParts {
  view: PanoramaView;
  sources: RasterFile[];
  projected: Projected[];
  falloff: EvenLight["falloff"];
}
