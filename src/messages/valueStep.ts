import { message, type Message } from "./message";

/** The step that set a value of something. @param name what was set @param value as it is shown @param unit empty where it has none */
export const valueStep = (name: string, value: string, unit = ""): Message =>
  unit ? message("step.value", { name, value, unit }) : message("step.plainValue", { name, value });
