/** A deadlock, and a wait for a lock that took too long: the transaction was undone, and may be done again. */
const passing = new Set([1213, 1205]);

/** Does something in the database again where it met others there; after some tries its error is thrown. */
export async function retried<T>(act: () => Promise<T>, tries = 6): Promise<T> {
  for (let i = 1; ; i++) {
    try {
      return await act();
    } catch (error) {
      const number = (error as { parent?: { errno?: number } }).parent?.errno ?? 0;
      if (!passing.has(number) || i >= tries) throw error;
      await new Promise((done) => setTimeout(done, 20 * i + Math.random() * 30));
    }
  }
}
