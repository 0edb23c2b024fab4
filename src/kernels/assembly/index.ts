export { warpRows, warpFloatRows } from "./warp";
export { lookUpSamples, lookUpBytes, applyMatrix, halveRows } from "./planes";
export { reduceRows, accumulateBand, collapseRows, accumulateProduct } from "./pyramid";
export { fusionWeightRows, divideSamples, keepLargest } from "./fusion";
export { largestChannel, judgeRows, mergeRadiance } from "./radiance";
export { gradeSamples, toneSamples, localToneRows, blendSamples, encodeRows8, encodeSamples, decodeSamples, stampDisc } from "./grade";
export { combineRepeats } from "./repeats";
