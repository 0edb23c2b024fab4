import { Refusal } from "../../core/refusal";
import { Codecs } from "../../formats/codecs";

const notLoaded = () => new Refusal("notLoaded", "engine.notLoaded");

/** A wasm file of the application. @throws Refusal where it cannot be had now */
export async function loadWasm(name: string): Promise<Uint8Array<ArrayBuffer>> {
  try {
    const answer = await fetch(`/wasm/${name}.wasm`);
    if (!answer.ok) throw notLoaded();
    return new Uint8Array(await answer.arrayBuffer());
  } catch {
    throw notLoaded();
  }
}

export function loadCodecs(): Promise<Codecs> {
  const script = (name: string): Promise<{ default: unknown }> =>
    import(/* turbopackIgnore: true */ `/wasm/${name}.js`).catch(() => {
      throw notLoaded();
    });
  return Codecs.create({ wasm: loadWasm, script });
}
