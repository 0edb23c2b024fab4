import { bracket } from "./bracket/record";
import { cutout } from "./cutout/record";
import { developed } from "./developed/record";
import { focus } from "./focus/record";
import { panorama } from "./panorama/record";
import { repeats } from "./repeats/record";
import { separate } from "./separate/record";
import { single } from "./single/record";
import { sky } from "./sky/record";
import type { SetKindRecord } from "./fields";

/** What frames can be to each other. */
export const SET_RECORDS = { bracket, focus, panorama, separate, repeats, sky, developed, cutout, single };

export type SetKind = keyof typeof SET_RECORDS;
export const setRecord = (kind: SetKind): SetKindRecord => SET_RECORDS[kind];
export const isSetKind = (kind: unknown): kind is SetKind => typeof kind === "string" && Object.hasOwn(SET_RECORDS, kind);
