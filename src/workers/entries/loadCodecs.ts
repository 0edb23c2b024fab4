import { Codecs } from "../../formats/codecs";

/** A wasm file of the application. @throws Error with a sentence where it cannot be had now */
export async function loadWasm(name: string): Promise<Uint8Array<ArrayBuffer>> {
  const answer = await fetch(`/wasm/${name}.wasm`);
  if (!answer.ok) throw new Error("A part of Marsh could not be loaded. Try again; if it stays so, reload the page.");
  return new Uint8Array(await answer.arrayBuffer());
}

export function loadCodecs(): Promise<Codecs> {
  const script = (name: string): Promise<{ default: unknown }> => import(/* turbopackIgnore: true */ `/wasm/${name}.js`);
  return Codecs.create({ wasm: loadWasm, script });
}
