import type { MergeWords } from "../wording";

export const panorama: MergeWords = { name: "Panorama", word: "Panorama", gives: "one wide picture", call: "Join the frames into one picture" };
