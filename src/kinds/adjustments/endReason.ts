import { message } from "../../messages/message";
import { sentence } from "../../messages/sentence";

/** Why an end of the picture's light is proposed. */
export const endReason = (dark: boolean, ev: number): string => sentence(message(dark ? "adjusting/darkEnd" : "adjusting/brightEnd", { ev }));
