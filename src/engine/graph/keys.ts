/** Content key of an operation: its name, version and parameters, which hold the keys of its inputs. */
export async function contentKey(operation: string, version: number, parameters: unknown): Promise<string> {
  const text = JSON.stringify([operation, version, parameters]);
  const digest = await crypto.subtle.digest("SHA-256", new TextEncoder().encode(text));
  return `${operation}-${hex(new Uint8Array(digest)).slice(0, 40)}`;
}

export async function sha256(bytes: Uint8Array): Promise<string> {
  return hex(new Uint8Array(await crypto.subtle.digest("SHA-256", bytes as Uint8Array<ArrayBuffer>)));
}

function hex(bytes: Uint8Array): string {
  return Array.from(bytes, (b) => b.toString(16).padStart(2, "0")).join("");
}
