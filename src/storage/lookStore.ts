import type { Look } from "../document/looks";
import { DATABASE, guarded } from "./database";

/** Looks, newest first. */
export const listLooks = (): Promise<Look[]> => guarded(async (db) => (await db.getAll(DATABASE.looks)).sort((a, b) => b.createdAt.localeCompare(a.createdAt)));
export const saveLook = (look: Look): Promise<unknown> => guarded((db) => db.put(DATABASE.looks, look));
export const removeLook = (id: string): Promise<void> => guarded((db) => db.delete(DATABASE.looks, id));
