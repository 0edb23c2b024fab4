import { applyMatrix, type Operation } from "../tools";

export const mixture: Operation = (on, v) =>
  applyMatrix(on, [v.redOfRed, v.redOfGreen, v.redOfBlue, v.greenOfRed, v.greenOfGreen, v.greenOfBlue, v.blueOfRed, v.blueOfGreen, v.blueOfBlue]);
