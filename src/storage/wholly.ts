interface Transaction {
  readonly done: Promise<void>;
  abort(): void;
}

/**
 * Does all of something within a transaction, or nothing: whatever fails, also before it was asked for, undoes the rest.
 * @param work gives each request to `ask` as it is made
 */
export async function wholly<T extends Transaction>(transaction: T, work: (transaction: T, ask: (request: Promise<unknown>) => void) => void): Promise<void> {
  const asked: Promise<unknown>[] = [];
  try {
    work(transaction, (request) => asked.push(request));
    await Promise.all(asked);
  } catch (error) {
    try {
      transaction.abort();
    } catch {
      // it was undone by the failure already
    }
    await Promise.allSettled([...asked, transaction.done]);
    throw error;
  }
  await transaction.done;
}
