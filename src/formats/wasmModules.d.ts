/** Packages without types of their own for the part Marsh uses; each reader states what it needs of them. */
declare module "lcms-wasm";
declare module "libraw-wasm/dist/libraw.js";
